<?php

declare(strict_types=1);

namespace Olivine\App\Setup;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Files\PlanFileReader;
use Olivine\App\Delivery\Files\PlannedPlan;
use Olivine\App\Delivery\Files\PlanPlanner;
use Olivine\App\Files\BadFiles;
use Olivine\App\Files\Keep;
use Olivine\App\Files\YamlFile;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\Files\PlannedRosters;
use Olivine\App\Roster\Files\RosterApplier;
use Olivine\App\Roster\Files\RosterFileReader;

/** What files would make of rosters and of who hears: rungs may name rosters that come with the same files. */
final readonly class PlannedFiles
{
    public function __construct(
        private PlanFileReader $reader,
        private PlanPlanner $planner,
        private RosterFileReader $rosters,
        private RosterApplier $applier,
        private EntityManagerInterface $entities,
    ) {
    }

    /**
     * The rosters are put there first, and all of it is taken back.
     *
     * @param list<YamlFile> $files
     *
     * @return array{PlannedRosters, PlannedPlan}
     *
     * @throws BadFiles where something is wrong in them
     * @throws Problem  where it could not be so
     */
    public function of(array $files): array
    {
        $hearing = $this->reader->whole($files);
        $rosters = $this->applier->plan($this->rosters->whole($files));
        if ($rosters->isNothing()) {
            return [$rosters, $this->planner->plan($hearing, false)];
        }
        $this->entities->beginTransaction();
        try {
            $this->applier->apply($rosters, Keep::File, null, 'planned');

            return [$rosters, $this->planner->plan($hearing, false)];
        } finally {
            $this->entities->rollback();
            $this->entities->clear();
        }
    }
}

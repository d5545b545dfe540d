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
use Olivine\App\Setup\Parts\PartFiles;
use Olivine\App\Setup\Parts\PlannedParts;

/** What files would make of all but rules: rungs may name rosters and channels that come with the same files. */
final readonly class PlannedFiles
{
    public function __construct(
        private PlanFileReader $reader,
        private PlanPlanner $planner,
        private RosterFileReader $rosters,
        private RosterApplier $applier,
        private PartFiles $parts,
        private EntityManagerInterface $entities,
    ) {
    }

    /**
     * Channels, actions and rosters are put there first, and all of it is taken back.
     *
     * @param list<YamlFile> $files
     *
     * @return array{PlannedRosters, PlannedPlan, PlannedParts}
     *
     * @throws BadFiles where something is wrong in them
     * @throws Problem  where it could not be so
     */
    public function of(array $files): array
    {
        $hearing = $this->reader->whole($files);
        $rosters = $this->applier->plan($this->rosters->whole($files));
        $parts = $this->parts->plan($files);
        if ($rosters->isNothing() && $parts->isNothing()) {
            return [$rosters, $this->planner->plan($hearing, false), $parts];
        }
        $this->entities->beginTransaction();
        try {
            $this->parts->apply($parts, Keep::File, null, ['channel', 'action']);
            $this->applier->apply($rosters, Keep::File, null, 'planned');

            return [$rosters, $this->planner->plan($hearing, false), $parts];
        } finally {
            $this->entities->rollback();
            $this->entities->clear();
        }
    }
}

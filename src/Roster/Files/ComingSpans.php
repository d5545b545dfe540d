<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Files;

use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Roster\Definition\AbsenceDefinition;
use Olivine\App\Roster\Definition\CoverDefinition;
use Olivine\App\Roster\Entity\KeptRoster;
use Olivine\App\Roster\Repository\AbsenceRepository;
use Olivine\App\Roster\Repository\CoverRepository;
use Olivine\Core\Time\Instant;

/** The covers and absences of a roster that are not over, as files say them: times on its clocks, people by their addresses. */
final readonly class ComingSpans
{
    private const TIME = 'Y-m-d H:i';

    public function __construct(
        private CoverRepository $covers,
        private AbsenceRepository $absences,
        private PersonRepository $people,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * Only covers that take place, and absences of this roster: one of all rosters is the person's, and no file's.
     *
     * @return array{list<CoverDefinition>, list<AbsenceDefinition>}
     */
    public function of(KeptRoster $roster, string $zone): array
    {
        $now = $this->clock->now();
        $addresses = array_flip($this->people->byAddress());
        $clocks = new \DateTimeZone($zone);
        $time = static fn(Instant $at): string => $at->in($clocks)->format(self::TIME);
        $covers = $away = [];
        foreach ($this->covers->notOver($now) as $one) {
            $isTaken = $one->rosterId === $roster->id && $one->state->takesPlace();
            if ($isTaken && isset($addresses[$one->personId], $addresses[$one->forId])) {
                $covers[] = new CoverDefinition($addresses[$one->personId], $addresses[$one->forId], $time($one->fromAt), $time($one->toAt));
            }
        }
        foreach ($this->absences->notOver($now) as $one) {
            if ($one->rosterId === $roster->id && isset($addresses[$one->personId])) {
                $away[] = new AbsenceDefinition($addresses[$one->personId], $time($one->fromAt), $time($one->toAt));
            }
        }

        return [$covers, $away];
    }
}

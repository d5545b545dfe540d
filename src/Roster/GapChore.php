<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Letters;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\People\Role;
use Olivine\App\Platform\Chore;
use Olivine\App\Platform\Settings;
use Olivine\App\Roster\Answer\CoverageFault;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** A time in which nobody would hear is told in good time, once: to the administrators, and to whoever is away. */
final readonly class GapChore implements Chore
{
    private const EVERY_MS = 300_000;
    private const AHEAD_DAYS = 3;

    public function __construct(
        private CoverageView $coverage,
        private PersonRepository $people,
        private Letters $letters,
        private Settings $settings,
        private EntityManagerInterface $entities,
    ) {
    }

    public function name(): string
    {
        return 'telling of gaps in good time';
    }

    public function everyMs(): int
    {
        return self::EVERY_MS;
    }

    public function do(Instant $now): void
    {
        $this->entities->clear();
        $until = $now->plus(Duration::ofDays(self::AHEAD_DAYS));
        $page = $this->coverage->page();
        // A rung that is empty for ever is how somebody set it up, and stands on the page.
        $isToTell = static fn(CoverageFault $one): bool => $one->grade === FaultGrade::Nobody || $one->rosterId !== null;
        $isSoon = static fn(CoverageFault $one): bool => $one->from?->isBefore($until) === true;
        foreach (array_filter($page->faults, $isSoon) as $gap) {
            if ($isToTell($gap)) {
                $this->tell($gap, $page->to);
            }
        }
    }

    private function tell(CoverageFault $gap, Instant $seenTo): void
    {
        if ($gap->from === null || $gap->to === null) {
            return;
        }
        $zone = $this->settings->zone();
        $when = "{$gap->from->in($zone)->format('D j M H:i')} to {$gap->to->in($zone)->format('D j M H:i')}";
        $text = "{$gap->words}, {$when}.\nOf the path {$gap->path}: {$gap->grade->value}.\n\n{$gap->remedy}: {$this->settings->publicUrl()}/roster/coverage\n";
        foreach ($this->people->byName() as $person) {
            if ($person->mayAct() && ($person->role === Role::Administrator || $person->id === $gap->forId)) {
                // One that is under way begins anew at each look, and one that goes on beyond what is looked at ends anew: that is told each week.
                $ends = $gap->to->isBefore($seenTo) ? (string) $gap->to->ms : "later {$gap->from->in($zone)->format('o-W')}";
                $key = hash('xxh128', "{$gap->words} {$ends} {$gap->path}");
                $this->letters->post($person->id(), "Nobody on call: {$when}", $text, "gap-{$key}.{$person->id()}");
            }
        }
    }
}

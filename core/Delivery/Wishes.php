<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WeekHours;

/**
 * How a person wants to be told where a rung leaves it to them: by which channels, by severity, and in which hours by none of
 * what is less than critical.
 *
 * Quiet from 22:00 to 07:00: a minor incident at 23:10 is told at 07:00, if it is still to be told then; a critical one at 23:10.
 */
final readonly class Wishes
{
    private const LONGEST_QUIET_DAYS = 8;

    /** @param array<string, non-empty-list<string>> $ways severity → channels, all at once; one that is not there: by the first channel */
    public function __construct(private array $ways = [], public ?WeekHours $quiet = null)
    {
    }

    /** @return list<string> empty: whichever comes first */
    public function waysFor(Severity $severity): array
    {
        return $this->ways[$severity->value] ?? [];
    }

    /** Whether it is told in quiet hours, too. */
    public static function passes(Severity $severity): bool
    {
        return $severity === Severity::Critical;
    }

    /** @return Instant|null when it is quiet no more; null where it is not, or what is told passes */
    public function quietUntil(Severity $severity, Instant $at): ?Instant
    {
        if (self::passes($severity) || $this->quiet?->covers($at) !== true) {
            return null;
        }

        return $this->quiet->between($at, $at->plus(Duration::ofDays(self::LONGEST_QUIET_DAYS)))[0][1] ?? null;
    }
}

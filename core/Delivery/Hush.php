<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/**
 * Whether an incident is hushed: while all of its alerts that are up are muted, its ladder stands still, and goes on when the first of
 * them can be heard again.
 *
 * By example, an alert at 02:40 under a window until 04:00: its first rung, due at 02:40:10, is due at 04:00, the second one 15 min
 * after that. Ended by hand at 03:10, the first rung is due at 03:10.
 */
final readonly class Hush
{
    public function __construct(private Mutes $mutes)
    {
    }

    /** @return array{Instant, Mute}|null until when, and by which; null where any of it is to be heard, or nothing is up */
    public function over(IncidentState $incident, Instant $at): ?array
    {
        if ($this->mutes->all === [] || $incident->lookedBack) {
            return null;
        }
        $first = null;
        foreach ($incident->up() as $alert) {
            $over = $this->mutes->over($alert->about, $at);
            if ($over === null) {
                return null;
            }
            $first = $first === null || $over[0]->isBefore($first[0]) ? $over : $first;
        }

        return $first;
    }

    /** Whether one alert is to be heard. */
    public function hears(LabelSet $about, Instant $at): bool
    {
        return $this->until($about, $at) === null;
    }

    /** @return Instant|null until when one alert is not to be heard; null: it is */
    public function until(LabelSet $about, Instant $at): ?Instant
    {
        return $this->mutes->over($about, $at)[0] ?? null;
    }

    /** @param array{Instant, Mute} $over */
    public static function line(array $over, Instant $at): Line
    {
        [$until, $mute] = $over;

        return new Line(
            TrailKind::HeldBack,
            $at,
            "hushed by {$mute->words} for {$until->since($at)->words()} more: nobody is told",
            "hushed {$mute->id} {$until->ms}",
        );
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Time\Instant;

/** What the trail says of a message that waits for somebody's quiet hours to end. */
final readonly class QuietHours
{
    /**
     * @param string $what  waits: `rung 1`
     * @param int    $round of the message; of one kind, round and person it is said once
     */
    public static function line(string $what, MessageKind $kind, int $round, int $person, Instant $until, Instant $at): Line
    {
        $words = "{$what} waits for {$until->since($at)->words()}: it reaches somebody whose quiet hours these are";

        return new Line(TrailKind::HeldBack, $at, $words, "quiet {$kind->value} {$round} {$person}");
    }
}

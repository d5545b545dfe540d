<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/**
 * How an alert more makes an incident larger than it was known to be: it takes it to a site or a service that none of the others is
 * of, or makes it ten times as large, hundred times … as it was when it was told first.
 *
 * Told with 3 alerts, all of greyhaven: the first of skarn is one, and so are the 30th and the 300th, wherever they are.
 */
final readonly class Widening
{
    private const PLACES = ['site', 'service'];
    private const PLACE_ROUND = 100;
    private const SIZE_ROUND = 10_000;
    private const TIMES_AS_MANY = 10;

    /** @param int $round of the message that tells it */
    private function __construct(public string $words, public int $round)
    {
    }

    /** @return bool whether a message of "worse" tells of this, not of a graver severity */
    public static function isOf(int $round): bool
    {
        return $round >= self::PLACE_ROUND;
    }

    /** @param LabelSet $about the alert that came, which is part of the incident as it is now */
    public static function between(IncidentState $before, IncidentState $now, LabelSet $about, Instant $toldAt): ?self
    {
        return self::toPlace($before, $now, $about) ?? self::toSize($before, $now, $toldAt);
    }

    private static function toPlace(IncidentState $before, IncidentState $now, LabelSet $about): ?self
    {
        foreach (self::PLACES as $label) {
            $value = $about->get($label);
            $isAlike = static fn(GroupedAlert $alert): bool => $alert->about->get($label) === $value;
            if ($value !== '' && !array_any($before->alerts, $isAlike)) {
                $places = count($now->valuesOf('site')) + count($now->valuesOf('service'));

                return new self("it has spread: now also {$label} {$value}", self::PLACE_ROUND + $places);
            }
        }

        return null;
    }

    private static function toSize(IncidentState $before, IncidentState $now, Instant $toldAt): ?self
    {
        $count = count($now->alerts);
        if ($count === count($before->alerts) || $count % self::TIMES_AS_MANY !== 0) {
            return null;
        }
        $ofFirst = array_filter($now->alerts, static fn(GroupedAlert $alert): bool => !$alert->raisedAt->isAfter($toldAt));
        $first = max(1, count($ofFirst));
        for ($size = $first * self::TIMES_AS_MANY, $step = 1; $size <= $count; $size *= self::TIMES_AS_MANY, ++$step) {
            if ($size === $count) {
                return new self("it has grown: {$count} alerts, where it was {$first} when it was told first", self::SIZE_ROUND + $step);
            }
        }

        return null;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Olivine\App\Platform\Database;
use Olivine\App\Platform\WorkTime;
use Olivine\App\Rule\RuleEngines;
use Olivine\App\Rule\StoredRests;
use Olivine\App\Store\LateReadings;
use Olivine\App\Store\SeriesIndex;
use Olivine\App\Store\StoredReadings;
use Olivine\App\Store\StoredRollups;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Direction;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Threshold;
use Olivine\Core\Time\Duration;

/** The engine that rules are evaluated and replayed by, over a database of the bench. */
final class BenchRules
{
    public static function engine(Database $database): RuleEngine
    {
        $connection = $database->connection;
        $index = new SeriesIndex($connection);
        $engines = new RuleEngines(
            new StoredReadings($connection, $index, new StoredRollups($connection)),
            new LateReadings($database, $index),
            new StoredRests($connection, $index),
            new WorkTime(),
            static fn(): \DateTimeZone => new \DateTimeZone('UTC'),
        );

        return $engines->asItWas();
    }

    /**
     * Major above a limit for 5 min, clear when it stays below for as long.
     *
     * @throws BadRule naming the field that cannot be so
     */
    public static function above(float $limit): Threshold
    {
        return new Threshold(
            Severity::Major,
            Direction::Above,
            $limit,
            Duration::ofMinutes(5),
            $limit,
            Duration::ofMinutes(5),
            Duration::ofMinutes(10),
        );
    }
}

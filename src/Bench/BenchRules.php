<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Olivine\App\Platform\Database;
use Olivine\App\Platform\WorkTime;
use Olivine\App\Rule\RuleEngines;
use Olivine\App\Rule\StoredRests;
use Olivine\App\Store\LateReadings;
use Olivine\App\Store\SeriesIndex;
use Olivine\App\Store\Standstills;
use Olivine\App\Store\StoredReadings;
use Olivine\App\Store\StoredRollups;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Rule\Holding;
use Olivine\Core\Rule\Level;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
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
            $index,
            new LateReadings($database, $index),
            new StoredRests($connection, $index, new Standstills($database)),
            new WorkTime(),
            static fn(): \DateTimeZone => new \DateTimeZone('UTC'),
            static fn(): array => [],
        );

        return $engines->asItWas();
    }

    /**
     * Major above a limit for 5 min, clear when it stays below for as long.
     *
     * @throws FormulaError where the formula cannot be read or worked out
     * @throws BadRule      naming the field that cannot be so
     */
    public static function above(string $formula, float $limit): Rule
    {
        return self::of($formula, new Threshold(new Limits(Side::Above, [new Level(Severity::Major, $limit)], $limit)));
    }

    /**
     * @throws FormulaError where the formula cannot be read or worked out
     * @throws BadRule      naming the field that cannot be so
     */
    public static function of(string $formula, Condition $condition): Rule
    {
        return new Rule(
            Parser::parse($formula),
            $condition,
            new Holding(Duration::ofMinutes(5), Duration::ofMinutes(5)),
            Duration::ofMs(BenchReadings::STEP_MS),
            mustSee: 0.8,
        );
    }
}

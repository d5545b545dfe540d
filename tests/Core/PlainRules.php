<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Rule\Holding;
use Olivine\Core\Rule\Level;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
use Olivine\Core\Time\Duration;

/** Rules for tests, with little said of each. */
final class PlainRules
{
    /** @param float|null $critical from where on it is critical, major before */
    public static function threshold(Side $side, float $limit, float $clear, ?float $critical = null): Threshold
    {
        $levels = [new Level(Severity::Major, $limit)];
        if ($critical !== null) {
            $levels[] = new Level(Severity::Critical, $critical);
        }

        return new Threshold(new Limits($side, $levels, $clear));
    }

    public static function holding(int $holdMs, int $clearHoldMs, int $blindAfterMs, ?Severity $blind = Severity::Minor): Holding
    {
        return new Holding(Duration::ofMs($holdMs), Duration::ofMs($clearHoldMs), Duration::ofMs($blindAfterMs), $blind);
    }

    public static function rule(string|Node $watched, Condition $condition, Holding $holding, int $stepMs): Rule
    {
        $formula = is_string($watched) ? Parser::parse($watched) : $watched;

        return new Rule($formula, $condition, $holding, Duration::ofMs($stepMs));
    }
}

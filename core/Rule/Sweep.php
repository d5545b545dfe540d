<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Time\Duration;

/** One setting of a rule over many values: which of them give the same alerts, and where it matters. */
enum Sweep: string
{
    case Limit = 'limit';
    case Hold = 'hold';

    /**
     * @return Rule|null the rule with this value; null where it cannot have it
     */
    public function with(Rule $rule, float $value): ?Rule
    {
        try {
            return match ($this) {
                self::Limit => $rule->with(condition: $rule->condition->moved($value)),
                self::Hold => $rule->with(holding: $rule->holding->held(Duration::ofSeconds((int) round($value)))),
            };
        } catch (BadRule) {
            return null;
        }
    }

    /**
     * Stretches of values next to each other that give the same number of alerts, three values long at least.
     *
     * By example, of 330 → 3, 380 → 3, 430 → 3 and 480 → 2 alerts: from 330 to 430 it is always 3.
     *
     * @param list<array{float, int}> $counts value, rising, and how many alerts it gives
     *
     * @return list<array{float, float, int}> from, to and how many, the longest first
     */
    public static function flats(array $counts): array
    {
        $flats = [];
        $from = 0;
        $last = count($counts) - 1;
        foreach ($counts as $i => [$value, $alerts]) {
            if ($i < $last && $counts[$i + 1][1] === $alerts) {
                continue;
            }
            if ($i - $from >= 2) {
                $flats[] = [$counts[$from][0], $value, $alerts];
            }
            $from = $i + 1;
        }
        usort($flats, static fn(array $a, array $b): int => $b[1] - $b[0] <=> $a[1] - $a[0]);

        return $flats;
    }
}

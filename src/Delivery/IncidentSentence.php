<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Rule\Entity\Rule;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Quantity;
use Olivine\Core\Time\Duration;

/** What is wrong, in one sentence with its numbers. */
final class IncidentSentence
{
    private const PLACES = ['host', 'container', 'broker', 'database', 'proxy', 'target', 'site'];

    public static function raised(Rule $rule, LabelSet $labels, string $unit): string
    {
        $limit = Quantity::words($rule->limit, $unit);
        $held = $rule->holdSeconds === 0 ? 'is' : 'has held';
        $for = $rule->holdSeconds === 0 ? '' : ' for ' . Duration::ofSeconds($rule->holdSeconds)->words();

        return $rule->name . self::where($labels) . " {$held} {$rule->direction->value} {$limit}{$for}";
    }

    public static function blind(Rule $rule, LabelSet $labels): string
    {
        return "{$rule->name}" .
            self::where($labels) .
            ' has brought no readings for ' .
            Duration::ofSeconds($rule->blindAfterSeconds)->words();
    }

    /** ` on broker-north (boarding)`, from the labels that say where it is. */
    public static function where(LabelSet $labels): string
    {
        $place = null;
        $rest = [];
        foreach (self::PLACES as $name) {
            if ($labels->get($name) !== '') {
                $place = $name;
                break;
            }
        }
        foreach ($labels->labels as $name => $value) {
            if ($name !== $place && !in_array($name, [...self::PLACES, 'service', 'state', 'kind', 'direction'], true)) {
                $rest[] = $value;
            }
        }
        $detail = $rest === [] ? '' : implode(', ', $rest);

        return match (true) {
            $place !== null && $detail !== '' => " on {$labels->get($place)} ({$detail})",
            $place !== null => " on {$labels->get($place)}",
            $detail !== '' => " of {$detail}",
            default => '',
        };
    }
}

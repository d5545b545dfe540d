<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Rule\Holding;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Quantity;

/** The revision of a rule that raised an alert, in the words that messages, the trail and the screens share. */
final readonly class RaisedBy
{
    private const PLACES = ['host', 'container', 'broker', 'database', 'proxy', 'target', 'site'];
    private const UNTOLD = [...self::PLACES, 'service', 'state', 'kind', 'direction'];

    public function __construct(
        public int $revisionId,
        public RuleDefinition $rule,
        private Rule $core,
        public string $unit,
    ) {
    }

    /** With the limits that hold for these. */
    public function conditionOf(LabelSet $labels): Condition
    {
        return $this->core->conditionOf($labels);
    }

    public function holding(): Holding
    {
        return $this->core->holding;
    }

    /** `Boarding queue on broker-north (boarding)`. */
    public function name(LabelSet $labels): string
    {
        return $this->rule->name . self::where($labels);
    }

    /** `Boarding queue on broker-north (boarding) has held above 400 messages for 1 min`. */
    public function raised(LabelSet $labels): string
    {
        return "{$this->name($labels)} {$this->conditionOf($labels)->title($this->unit, $this->core->holding->hold)}";
    }

    /** `Boarding queue on broker-north (boarding) went above 400 messages`, of what is not yet raised. */
    public function began(LabelSet $labels): string
    {
        $condition = $this->conditionOf($labels);
        $words = $condition->words($this->unit);

        return $condition instanceof Threshold ? "{$this->name($labels)} went {$words}" : "{$this->name($labels)} {$words}, seen first";
    }

    public function blind(LabelSet $labels): string
    {
        return "{$this->name($labels)} has brought no readings for {$this->core->holding->blindAfter->words()}";
    }

    /** One alert for a whole group: its value is how many of it are past the limit. */
    public function isOfGroup(): bool
    {
        return $this->rule->together !== null;
    }

    /** `1,284 messages`; of a group `3 of them`. */
    public function value(float $value): string
    {
        return $this->isOfGroup() ? Quantity::words($value, '') . ' of them' : Quantity::words($value, $this->unit);
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
            if ($name !== $place && !in_array($name, self::UNTOLD, true)) {
                $rest[] = $value;
            }
        }
        $detail = implode(', ', $rest);

        return match (true) {
            $place !== null && $detail !== '' => " on {$labels->get($place)} ({$detail})",
            $place !== null => " on {$labels->get($place)}",
            $detail !== '' => " of {$detail}",
            default => '',
        };
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

use Olivine\Core\Series\LabelSet;

/** `site in ("greyhaven", "skarn")`; a label that a series lacks equals "". */
final readonly class LabelTest implements Filter
{
    private ?Wildcards $wildcards;

    /** @param list<string> $values one, but for `in` and `not in` */
    public function __construct(public Place $place, public string $label, public LabelOperator $operator, public array $values)
    {
        $this->wildcards = $operator === LabelOperator::Like ? new Wildcards($values[0]) : null;
    }

    public function accepts(LabelSet $labels): bool
    {
        $value = $labels->get($this->label);

        return match ($this->operator) {
            LabelOperator::Equals => $value === $this->values[0],
            LabelOperator::Differs => $value !== $this->values[0],
            LabelOperator::In => in_array($value, $this->values, true),
            LabelOperator::NotIn => !in_array($value, $this->values, true),
            LabelOperator::Like => $this->wildcards?->accepts($value) === true,
            LabelOperator::Matches => preg_match(self::pattern($this->values[0]), $value) === 1,
        };
    }

    /** Anchored at both ends, and bounded: past the limit the engine gives up and the label does not match. */
    public static function pattern(string $expression): string
    {
        return '~(*LIMIT_MATCH=5000)^(?:' . str_replace('~', '\~', $expression) . ')$~Ds';
    }
}

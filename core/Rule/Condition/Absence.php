<?php

declare(strict_types=1);

namespace Olivine\Core\Rule\Condition;

use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Memory;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Track;
use Olivine\Core\Rule\Verdict;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * No value where there was one: of each series that was there, also of those that fell silent before the rule was written.
 * How long nothing must come is the rule's hold; what never comes back ends as lost from sight.
 */
final readonly class Absence implements Condition
{
    public function __construct(private Severity $severity)
    {
    }

    public function inputs(Node $watched): array
    {
        return [$watched];
    }

    public function judge(Memory $memory, Instant $at, array $values): Verdict
    {
        $value = $values[0];

        return $value === null || is_nan($value) ? Verdict::past(null, $this->severity) : Verdict::back($value);
    }

    public function calmUntil(Track $track, int $from): int
    {
        $values = $track->columns[0];
        $count = count($values);
        $i = $from;
        while ($i < $count && $values[$i] !== null && $values[$i] === $values[$i]) {
            ++$i;
        }

        return $i;
    }

    public function pastUntil(Track $track, int $from, Severity $severity): int
    {
        return $from;
    }

    public function moved(float $limit): self
    {
        throw new BadRule('limits', 'there is none: what is not seen is not seen');
    }

    public function severity(): Severity
    {
        return $this->severity;
    }

    public function words(string $unit): string
    {
        return 'not seen';
    }

    public function title(string $unit, Duration $hold): string
    {
        return $hold->isNone() ? 'brings no readings' : "has brought no readings for {$hold->words()}";
    }

    public function backWords(string $unit): string
    {
        return 'seen again';
    }

    public function reason(array $numbers, string $unit): string
    {
        return 'it was there before';
    }

    public function lines(): array
    {
        return [];
    }
}

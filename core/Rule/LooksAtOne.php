<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Time\Instant;

/** One label set. */
final readonly class LooksAtOne implements Looks
{
    /** @param non-empty-list<list<float|null>> $columns of the inputs of the condition, a value an instant */
    public function __construct(private Condition $condition, private array $columns)
    {
    }

    public function sees(int $i): bool
    {
        return $this->columns[0][$i] !== null;
    }

    public function judge(int $i, Memory $memory, Instant $at): Verdict
    {
        $values = [];
        foreach ($this->columns as $column) {
            $values[] = $column[$i];
        }

        return $this->condition->judge($memory, $at, $values);
    }

    public function calmUntil(int $i): int
    {
        return $this->condition->calmUntil($this->columns, $i);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Time\Instant;

/** One label set. */
final readonly class LooksAtOne implements Looks
{
    public function __construct(private Condition $condition, private Track $track)
    {
    }

    public function sees(int $i): bool
    {
        return $this->track->columns[0][$i] !== null;
    }

    public function judge(int $i, Memory $memory, Instant $at): Verdict
    {
        $values = [];
        foreach ($this->track->columns as $column) {
            $values[] = $column[$i];
        }

        return $this->condition->judge($memory, $at, $values);
    }

    public function calmUntil(int $i): int
    {
        return $this->condition->calmUntil($this->track, $i);
    }

    public function pastUntil(int $i, Severity $severity): int
    {
        return $this->condition->pastUntil($this->track, $i, $severity);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Entity\Target;

/** One time of asking one target, from its start to its end. */
abstract class Asking
{
    /** Why there is no answer that can be judged. */
    public ?string $fault = null;
    public float $endedAt = 0.0;
    public readonly float $startedAt;

    /**
     * @param int|null   $dueMs     when it was to begin
     * @param float|null $startedAt where it was asked elsewhere
     */
    public function __construct(public readonly Target $target, public readonly ?int $dueMs = null, ?float $startedAt = null)
    {
        $this->startedAt = $startedAt ?? microtime(true);
    }

    /** @return int how long after its time it ended, ms: begun late, answered slowly, or both */
    public function afterMs(): int
    {
        return (int) ($this->endedAt * 1000) - ($this->dueMs ?? (int) ($this->startedAt * 1000));
    }

    /** Whether it was asked by this process. */
    public function isFromHere(): bool
    {
        return true;
    }

    public function fail(string $reason): void
    {
        $this->fault = $reason;
        $this->endedAt = microtime(true);
    }

    public function seconds(): float
    {
        return $this->endedAt - $this->startedAt;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Platform\SlowAnswer;
use Olivine\Core\Time\Instant;

/** An answer that counts how often it was worked out, and fails when told to. */
final class PlainAnswer implements SlowAnswer
{
    public bool $fails = false;
    public int $asked = 0;

    public function __construct(private readonly string $name, private readonly int $everyMs)
    {
    }

    public function name(): string
    {
        return $this->name;
    }

    public function renewEveryMs(): int
    {
        return $this->everyMs;
    }

    /** @return array{turn: int} */
    public function work(Instant $now): array
    {
        ++$this->asked;

        return $this->fails ? throw new \RuntimeException('It cannot be worked out') : ['turn' => $this->asked];
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Entity\Target;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Verdict;

/** One that could not even begin. */
final class FailedRun extends CheckRun
{
    public function __construct(Target $target, ?int $dueMs, int $place, private readonly string $why)
    {
        parent::__construct($target, $dueMs, $place);
        $this->endedAt = microtime(true);
    }

    public static function of(CheckRun $run, \Throwable $error): self
    {
        return new self($run->target, $run->dueMs, $run->place, "It cannot be asked as it is set up: {$error->getMessage()}");
    }

    public function judged(): Judgement
    {
        return new Judgement(Verdict::Unknown, $this->why, []);
    }

    public function steps(): array
    {
        return [];
    }

    public function lastAnswer(): string
    {
        return '';
    }
}

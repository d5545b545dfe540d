<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Answer\CheckStep;
use Olivine\App\Collect\Entity\Target;
use Olivine\Core\Check\Judgement;

/** One asking that a station judged where it stands, brought with the time at which it was. */
final class ReportedRun extends CheckRun
{
    /** @param list<CheckStep> $steps */
    public function __construct(
        Target $target,
        int $place,
        int $arrival,
        float $endedAt,
        float $seconds,
        private readonly Judgement $judgement,
        private readonly array $steps,
        private readonly string $answer,
    ) {
        parent::__construct($target, null, $place, $endedAt - $seconds);
        $this->endedAt = $endedAt;
        $this->arrival = $arrival;
    }

    public function isFromHere(): bool
    {
        return false;
    }

    public function judged(): Judgement
    {
        return $this->judgement;
    }

    public function steps(): array
    {
        return $this->steps;
    }

    public function lastAnswer(): string
    {
        return $this->answer;
    }
}

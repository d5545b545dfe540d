<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\PastsAtHand;

/** Every reading by its own time, whenever it arrived: what a rule would say if all had come in time. */
final readonly class AllThatIsThere implements Sight
{
    public function __construct(private Evaluator $evaluator)
    {
    }

    public function at(Node $formula, int $fromMs, int $throughMs): array
    {
        return [$this->evaluator, $throughMs];
    }

    public function forOneRun(): self
    {
        return new self($this->evaluator->keeping(new PastsAtHand()));
    }
}

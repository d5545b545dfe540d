<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Latecomers;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\ReadingsAsSeen;
use Olivine\Core\Formula\ReadingSource;
use Olivine\Core\Formula\Tree;

/**
 * What had arrived when the rules looked: live rules see this, and so does a replay of what was. A reading that came
 * after they had looked at its instant is seen from the instant on at which it was there.
 */
final readonly class AsItWas implements Sight
{
    /** @param \Closure(ReadingSource): Evaluator $evaluator */
    public function __construct(private ReadingSource $source, private Latecomers $latecomers, private \Closure $evaluator)
    {
    }

    public function at(Node $formula, int $fromMs, int $throughMs): array
    {
        if (!$this->latecomers->isAnyHidden($fromMs)) {
            return [($this->evaluator)($this->source), $throughMs];
        }
        $turn = null;
        foreach (Tree::selections($formula) as $selection) {
            $next = $this->latecomers->nextTurn($selection, $fromMs, $throughMs);
            $turn = $next === null ? $turn : min($turn ?? $next, $next);
        }
        $seen = new ReadingsAsSeen($this->source, $this->latecomers, $fromMs);

        return [($this->evaluator)($seen), $turn === null ? $throughMs : $turn - 1];
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\HeldReadings;
use Olivine\Core\Formula\Latecomers;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\PastsAtHand;
use Olivine\Core\Formula\ReadingsAsSeen;
use Olivine\Core\Formula\ReadingSource;
use Olivine\Core\Formula\ReadOnce;
use Olivine\Core\Formula\Tree;

/**
 * What had arrived when the rules looked: live rules see this, and so does a replay of what was. A reading that came
 * after they had looked at its instant is seen from the instant on at which it was there.
 */
final readonly class AsItWas implements Sight
{
    /**
     * @param \Closure(ReadingSource, ?PastsAtHand): Evaluator $evaluator
     * @param PastsAtHand                                      $pasts     of all that is seen whole
     */
    public function __construct(
        private ReadingSource $source,
        private Latecomers $latecomers,
        private \Closure $evaluator,
        private PastsAtHand $pasts = new PastsAtHand(),
    ) {
    }

    public function at(Node $formula, int $fromMs, int $throughMs): array
    {
        if (!$this->latecomers->isAnyHidden($fromMs)) {
            $goesOn = $this->pasts->look(
                $formula,
                $fromMs,
                fn(int $sinceMs): bool => $this->latecomers->isAnyHidden($sinceMs) && $this->turn($formula, $sinceMs, $fromMs) !== null,
            );
            if (!$goesOn && $this->source instanceof HeldReadings) {
                array_map($this->source->forget(...), Tree::selections($formula));
            }

            return [($this->evaluator)($this->source, $this->pasts), $throughMs];
        }
        $turn = $this->turn($formula, $fromMs, $throughMs);
        $seen = new ReadingsAsSeen($this->source, $this->latecomers, $fromMs);

        return [($this->evaluator)($seen, null), $turn === null ? $throughMs : $turn - 1];
    }

    /** It keeps what it looks back at anyhow, from one look to the next. */
    public function forOneRun(): self
    {
        return new self(new ReadOnce($this->source), $this->latecomers, $this->evaluator, $this->pasts);
    }

    /** @return int|null the first instant after from, up to through, at which more is seen of what the formula looks at */
    private function turn(Node $formula, int $fromMs, int $throughMs): ?int
    {
        $turn = null;
        foreach (Tree::selections($formula) as $selection) {
            $next = $this->latecomers->nextTurn($selection, $fromMs, $throughMs);
            $turn = $next === null ? $turn : min($turn ?? $next, $next);
        }

        return $turn;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Node\Node;

/** What a rule sees when it looks at an instant. */
interface Sight
{
    /** @return array{Evaluator, int} over what is seen at the first of these instants, and the last instant at which just the same is seen */
    public function at(Node $formula, int $fromMs, int $throughMs): array;

    /** The same for one run over a span: what it looks back at is read once, and then as it goes on. */
    public function forOneRun(): self;
}

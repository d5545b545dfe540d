<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** Asks once why nothing is expected of some labels at an instant, however many rules look at them over the same instants. */
final class RestsAtHand implements Rests
{
    /** @var \WeakMap<LabelSet, array<int, Rest|null>> labels → instant → why */
    private \WeakMap $known;

    public function __construct(private readonly Rests $rests)
    {
        $this->known = new \WeakMap();
    }

    public function why(Node $formula, LabelSet $labels, Instant $at): ?Rest
    {
        $known = $this->known[$labels] ?? [];
        if (array_key_exists($at->ms, $known)) {
            return $known[$at->ms];
        }
        // Let go first, so that there is but one of it that grows.
        unset($this->known[$labels]);
        $known[$at->ms] = $this->rests->why($formula, $labels, $at);
        $this->known[$labels] = $known;

        return $known[$at->ms];
    }
}

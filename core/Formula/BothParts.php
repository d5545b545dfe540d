<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Series\LabelSet;

/**
 * What was worked out last of a past: whoever asks for what is usual asks for the spread around it next, of the same formula at
 * the same instants.
 */
final class BothParts
{
    private ?Node $of = null;
    private string $how = '';
    /** @var list<array{LabelSet, list<array<int, float>|null>}> */
    private array $told = [];

    /**
     * @param string                                                          $how  beside the formula, all that the answer depends on
     * @param callable(): list<array{LabelSet, list<array<int, float>|null>}> $work
     *
     * @return list<array{LabelSet, list<array<int, float>|null>}>
     */
    public function of(Node $of, string $how, callable $work): array
    {
        if ($this->of !== $of || $this->how !== $how) {
            $this->told = $work();
            $this->of = $of;
            $this->how = $how;
        }

        return $this->told;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

use Olivine\Core\Series\LabelSet;

/** Just these label sets; nobody writes it, whoever needs no more of a formula asks so. */
final readonly class OneOf implements Filter
{
    /** @param array<string, mixed> $keys of label sets */
    public function __construct(public array $keys)
    {
    }

    public function accepts(LabelSet $labels): bool
    {
        return isset($this->keys[$labels->key()]);
    }
}

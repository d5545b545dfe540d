<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Series\LabelSet;

/** The times of trouble of each series. */
interface UnusualSpans
{
    /** @return list<UnusualSpan> */
    public function of(LabelSet $series): array;

    /** Differs wherever any of them does. */
    public function key(): string;
}

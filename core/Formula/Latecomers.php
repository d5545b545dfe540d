<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\Select;

/** Readings that came after rules had looked at their instant, and from when on they were there. */
interface Latecomers
{
    /** Whether any reading at all is there now that was not seen at this instant. */
    public function isAnyHidden(int $atMs): bool;

    /** @return int|null the first instant after from, up to through, at which more is seen of the selected series */
    public function nextTurn(Select $what, int $fromMs, int $throughMs): ?int;

    /** @return array<string, array<int, true>> key of the labels → times in `(afterMs, throughMs]` of readings that were not seen yet at the instant */
    public function hidden(Select $what, int $afterMs, int $throughMs, int $seenAtMs): array;
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Formula\Node\Filter;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/**
 * Hushes the alerts that match for a time: nobody is told of them, and all else goes on. Set for once, or a maintenance window that
 * comes again.
 */
final readonly class Mute
{
    /**
     * @param string                        $words as the trail says it: `the mute "drill" of Ines Duarte`
     * @param Filter|null                   $for   on labels, and on `severity`, `rule` and `owner`; null: everything
     * @param list<array{Instant, Instant}> $spans from and to, in the order of time, none touching another
     */
    public function __construct(public int $id, public string $words, private ?Filter $for, public array $spans)
    {
    }

    public function matches(LabelSet $about): bool
    {
        return $this->for?->accepts($about) ?? true;
    }

    /** @return Instant|null when the span ends that it is in */
    public function activeUntil(Instant $at): ?Instant
    {
        [$low, $high] = [0, count($this->spans)];
        while ($low < $high) {
            $middle = intdiv($low + $high, 2);
            [$low, $high] = $this->spans[$middle][1]->isAfter($at) ? [$low, $middle] : [$middle + 1, $high];
        }
        $span = $this->spans[$low] ?? null;

        return $span === null || $span[0]->isAfter($at) ? null : $span[1];
    }
}

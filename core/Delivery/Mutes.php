<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** All that hushes. Few do so at one instant, and many alerts are asked about at the same one: which these are is found once. */
final class Mutes
{
    /** Mutes that follow one another without a gap are one hush; of so many it is looked at again when the last of them ends. */
    private const MOST_IN_A_ROW = 50;

    private const INSTANTS_KNOWN = 16;

    /** @var array<int, list<array{Instant, Mute}>> instant, ms → those that hush then, each until when, the longest first */
    private array $active = [];

    /** @param list<Mute> $all */
    public function __construct(public readonly array $all = [])
    {
    }

    /** @return array{Instant, Mute}|null until when an alert is hushed, one mute after the other, and by which at first */
    public function over(LabelSet $about, Instant $at): ?array
    {
        $first = null;
        $until = $at;
        for ($i = 0; $i < self::MOST_IN_A_ROW; ++$i) {
            $next = $this->longest($about, $until);
            if ($next === null) {
                break;
            }
            $first ??= $next[1];
            $until = $next[0];
        }

        return $first === null ? null : [$until, $first];
    }

    /** @return array{Instant, Mute}|null the one whose hush ends last */
    private function longest(LabelSet $about, Instant $at): ?array
    {
        return array_find($this->activeAt($at), static fn(array $one): bool => $one[1]->matches($about));
    }

    /** @return list<array{Instant, Mute}> */
    private function activeAt(Instant $at): array
    {
        if (isset($this->active[$at->ms])) {
            return $this->active[$at->ms];
        }
        $active = [];
        foreach ($this->all as $mute) {
            $until = $mute->activeUntil($at);
            if ($until !== null) {
                $active[] = [$until, $mute];
            }
        }
        usort($active, static fn(array $a, array $b): int => [$b[0]->ms, $a[1]->id] <=> [$a[0]->ms, $b[1]->id]);
        $this->active = array_slice($this->active, 1 - self::INSTANTS_KNOWN, null, true);

        return $this->active[$at->ms] = $active;
    }
}

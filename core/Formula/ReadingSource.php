<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Series\Buckets;
use Olivine\Core\Series\Detail;
use Olivine\Core\Series\Tier;
use Olivine\Core\Series\Window;

/** Where a formula's readings come from: the store, a file, a test. */
interface ReadingSource
{
    /** @return list<Window> the selected series with their readings in `(afterMs, throughMs]`; none without readings */
    public function windows(Select $what, int $afterMs, int $throughMs): array;

    /**
     * Roll-ups of the selected series, in as much detail as is wanted, in `(afterMs, throughMs]`, both whole multiples of the tier's buckets.
     *
     * @return list<Buckets>|null null where the source has none that would be exact; readings are used then
     */
    public function buckets(Select $what, Tier $tier, Detail $detail, int $afterMs, int $throughMs): ?array;

    /**
     * What is left of readings that were let go, in full detail.
     *
     * @return list<Buckets>|null null where the readings themselves are there
     */
    public function remains(Select $what, Tier $tier, int $afterMs, int $throughMs): ?array;

    /**
     * The alerts of a rule as readings: 1 from the instant on at which one is raised, 0 from that on at which it is not; they
     * hold until the next.
     *
     * @return list<Window> in `(afterMs, throughMs]`, the first of each at the instant after
     */
    public function alerts(string $rule, int $afterMs, int $throughMs): array;

    /** About how much that would be, without reading it. */
    public function estimate(Select $what, int $afterMs, int $throughMs): Estimate;

    /** None of these speaks for the present longer than this after its newest reading. */
    public function longestStaleMs(Select $what): int;
}

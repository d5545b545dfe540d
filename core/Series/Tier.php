<?php

declare(strict_types=1);

namespace Olivine\Core\Series;

/** How finely roll-ups are kept: the length of a bucket, and of the span whose buckets lie in one row. */
enum Tier: string
{
    case FiveMinutes = '5m';
    case Hour = '1h';

    /** @return list<self> the tiers whose whole buckets make up every window, the coarsest first */
    public static function fitting(int $windowMs, int $stepMs, int $firstMs): array
    {
        return array_values(array_filter([self::Hour, self::FiveMinutes], static fn(self $tier): bool => $windowMs % $tier->bucketMs() === 0 && $stepMs % $tier->bucketMs() === 0 && $firstMs % $tier->bucketMs() === 0));
    }

    public function bucketMs(): int
    {
        return $this === self::FiveMinutes ? 300_000 : 3_600_000;
    }

    public function spanMs(): int
    {
        return $this === self::FiveMinutes ? 14_400_000 : 86_400_000;
    }

    public function buckets(): int
    {
        return intdiv($this->spanMs(), $this->bucketMs());
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Series;

/** How finely roll-ups are kept, by the length of a bucket. */
enum Tier: string
{
    case FiveMinutes = '5m';
    case Hour = '1h';

    /** @return list<self> the tiers whose whole buckets make up every window, the coarsest first */
    public static function fitting(int $windowMs, int $stepMs, int $firstMs): array
    {
        return array_values(
            array_filter(
                [self::Hour, self::FiveMinutes],
                static fn(self $tier): bool => $windowMs % $tier->bucketMs() === 0
                    && $stepMs % $tier->bucketMs() === 0
                    && $firstMs % $tier->bucketMs() === 0,
            ),
        );
    }

    public function bucketMs(): int
    {
        return $this === self::FiveMinutes ? 300_000 : 3_600_000;
    }
}

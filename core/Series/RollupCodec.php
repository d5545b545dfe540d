<?php

declare(strict_types=1);

namespace Olivine\Core\Series;

/**
 * Roll-ups as bytes. The times of a series' first and last readings are mostly those of its whole page, so they are
 * packed once for the page and again only where a series differs; growth is packed only where it is not last less first.
 */
final class RollupCodec
{
    public const CODEC = 1;

    private const COUNTER = 1;
    private const OWN_GROWTH = 2;
    private const OWN_TIMES = 4;
    /** Every bucket holds as many readings; the number stands in the head. */
    private const EVEN = 8;

    /** @param array{list<int>, list<int>} $pageTimes of the first and the last readings of the page in each bucket */
    public static function pack(Rollup $rollup, array $pageTimes): string
    {
        $flags = 0;
        $counts = $rollup->counts;
        $even = $counts !== [] && min($counts) === max($counts) && $counts[0] <= 0xffff;
        $parts = $even ? [] : [BlockCodec::pack(array_map(floatval(...), $counts))];
        $parts[] = BlockCodec::pack($rollup->sums);
        $parts[] = BlockCodec::pack([...$rollup->firsts, ...$rollup->lasts, ...$rollup->lows, ...$rollup->highs]);
        $flags |= $even ? self::EVEN : 0;
        if ($rollup->growths !== null) {
            $flags |= self::COUNTER;
            if ($rollup->growths !== self::plainGrowth($rollup->firsts, $rollup->lasts)) {
                $flags |= self::OWN_GROWTH;
                $parts[] = BlockCodec::pack($rollup->growths);
            }
        }
        if (!self::sharesTimes($rollup, $pageTimes)) {
            $flags |= self::OWN_TIMES;
            $parts[] = self::packTimes([$rollup->firstAts, $rollup->lastAts]);
        }
        $bytes = chr($flags) . ($even ? pack('v', $counts[0]) : '');
        foreach ($parts as $part) {
            $bytes .= pack('v', strlen($part)) . $part;
        }

        return $bytes;
    }

    /**
     * @param array{list<int>, list<int>} $pageTimes
     *
     * @throws DamagedBlock where what is stored is not what was written
     * @throws \ValueError  where damaged bytes ask for what cannot be
     */
    public static function unpack(string $bytes, array $pageTimes): Rollup
    {
        $flags = ord($bytes[0]);
        [$counts, $sums, $parts] = self::countsAndSums($bytes);
        $buckets = count($sums);
        $columns = BlockCodec::unpack(
            array_shift($parts) ?? throw new DamagedBlock('A roll-up could not be read back: its bytes are damaged.'),
        );
        [$firsts, $lasts] = [array_slice($columns, 0, $buckets), array_slice($columns, $buckets, $buckets)];
        $growths = null;
        if (($flags & self::COUNTER) !== 0) {
            $growths =
                ($flags & self::OWN_GROWTH) !== 0
                    ? BlockCodec::unpack((string) array_shift($parts))
                    : self::plainGrowth($firsts, $lasts);
        }
        [$firstAts, $lastAts] = ($flags & self::OWN_TIMES) !== 0 ? self::unpackTimes((string) array_shift($parts)) : $pageTimes;

        return new Rollup(
            $counts,
            $firsts,
            $lasts,
            array_slice($columns, 2 * $buckets, $buckets),
            array_slice($columns, 3 * $buckets, $buckets),
            $sums,
            $growths,
            $firstAts,
            $lastAts,
        );
    }

    /**
     * Only how many and their sum, which is all that most long charts need.
     *
     * @return array{list<int>, list<float>}
     *
     * @throws DamagedBlock where what is stored is not what was written
     */
    public static function unpackSums(string $bytes): array
    {
        [$counts, $sums] = self::countsAndSums($bytes);

        return [$counts, $sums];
    }

    /**
     * @return array{list<int>, list<float>, list<string>} counts, sums and the parts that follow, packed
     *
     * @throws DamagedBlock
     */
    private static function countsAndSums(string $bytes): array
    {
        $even = (ord($bytes[0]) & self::EVEN) !== 0;
        $parts = [];
        for ($at = $even ? 3 : 1, $size = strlen($bytes); $at < $size; $at += 2 + $length) {
            $length = ord($bytes[$at]) | (ord($bytes[$at + 1]) << 8);
            $parts[] = substr($bytes, $at + 2, $length);
        }
        if (count($parts) < ($even ? 2 : 3)) {
            throw new DamagedBlock('A roll-up could not be read back: its bytes are damaged.');
        }
        $counts = $even ? [] : array_map(intval(...), BlockCodec::unpack((string) array_shift($parts)));
        $sums = BlockCodec::unpack((string) array_shift($parts));

        return [$even ? array_fill(0, count($sums), ord($bytes[1]) | (ord($bytes[2]) << 8)) : $counts, $sums, $parts];
    }

    /** @param array{list<int>, list<int>} $times */
    public static function packTimes(array $times): string
    {
        return BlockCodec::pack(array_map(floatval(...), [...$times[0], ...$times[1]]));
    }

    /**
     * @return array{list<int>, list<int>}
     *
     * @throws DamagedBlock where what is stored is not what was written
     */
    public static function unpackTimes(string $bytes): array
    {
        $both = array_map(intval(...), BlockCodec::unpack($bytes));
        $half = intdiv(count($both), 2);

        return [array_slice($both, 0, $half), array_slice($both, $half)];
    }

    /**
     * @param list<float> $firsts
     * @param list<float> $lasts
     *
     * @return list<float>
     */
    private static function plainGrowth(array $firsts, array $lasts): array
    {
        $growths = [];
        foreach ($firsts as $i => $first) {
            $growths[] = $lasts[$i] - $first;
        }

        return $growths;
    }

    /** @param array{list<int>, list<int>} $pageTimes */
    private static function sharesTimes(Rollup $rollup, array $pageTimes): bool
    {
        foreach ($rollup->counts as $i => $count) {
            if ($count > 0 && ($rollup->firstAts[$i] !== $pageTimes[0][$i] || $rollup->lastAts[$i] !== $pageTimes[1][$i])) {
                return false;
            }
        }

        return true;
    }
}

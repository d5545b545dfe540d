<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\App\Platform\Database;
use Olivine\Core\Series\BlockCodec;
use Olivine\Core\Series\ScrapeValues;

/**
 * Writes a span of one page as blocks, one a series: values packed, with count, extremes, sum and ends beside
 * them; the times once for the page. Whoever calls holds the transaction.
 */
final readonly class BlockWriter
{
    /** Blocks begin at whole multiples of this. */
    public const SPAN_MS = 14_400_000;
    private const COLUMNS = ['series', 'from_at', 'to_at', 'readings', 'low', 'high', 'total', 'first_value', 'last_value', 'codec', 'packed'];

    public function __construct(private Database $database)
    {
    }

    /**
     * @param non-empty-list<int>               $times   rising, within one span
     * @param array<int, non-empty-list<float>> $columns series id → a value for each time, the absent mark where there is none
     */
    public function write(int $page, array $times, array $columns): void
    {
        $this->database->upsert('block_time', ['page', 'from_at', 'packed'], [[$page, $times[0], BlockCodec::packTimes($times)]]);
        $rows = [];
        foreach ($columns as $series => $values) {
            $present = $values;
            if (is_nan((float) array_sum($values))) {
                $present = array_values(array_filter($values, static fn(float $value): bool => !is_nan($value)));
                if ($present === [] && pack('e*', ...$values) === str_repeat(ScrapeValues::ABSENT, count($values))) {
                    continue;
                }
            }
            $rows[] = [
                $series, $times[0], $times[count($times) - 1], count($present),
                self::finite($present === [] ? 0.0 : min($present)), self::finite($present === [] ? 0.0 : max($present)), self::finite((float) array_sum($present)),
                self::finite($present[0] ?? 0.0), self::finite($present === [] ? 0.0 : $present[count($present) - 1]),
                BlockCodec::CODEC, BlockCodec::pack($values),
            ];
        }
        foreach (array_chunk($rows, 200) as $chunk) {
            $this->database->upsert('block', self::COLUMNS, $chunk);
        }
    }

    private static function finite(float $value): float
    {
        return is_finite($value) ? $value : ($value > 0 ? PHP_FLOAT_MAX : -PHP_FLOAT_MAX);
    }
}

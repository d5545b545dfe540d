<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\ParameterType;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Series\BlockCodec;
use Olivine\Core\Series\DamagedBlock;
use Olivine\Core\Series\ScrapeValues;

/** What is sealed of a page, run by run: a run is what one block of each series holds. */
final readonly class SealedRuns
{
    public function __construct(private Connection $connection)
    {
    }

    /**
     * @return array<int, non-empty-list<int>> start of the run → its times, oldest first; locked until the transaction ends
     *
     * @throws DamagedBlock where what is stored is not what was written
     */
    public function times(int $page, int $fromMs, int $untilMs): array
    {
        $times = [];
        foreach (
            $this->connection->fetchAllKeyValue(
                'SELECT from_at, packed FROM block_time WHERE page = ? AND from_at >= ? AND from_at < ? ORDER BY from_at FOR UPDATE',
                [$page, $fromMs, $untilMs],
            ) as $from => $packed
        ) {
            $times[(int) $from] = BlockCodec::unpackTimes(Scalar::text($packed));
        }

        return $times;
    }

    /**
     * @param array<int, non-empty-list<int>>  $runs     start → times, oldest first
     * @param list<int>                        $series
     * @param (callable(int, int): mixed)|null $onDamage is told of series and run, and nothing is known of them then; without it damage is thrown
     *
     * @throws DamagedBlock where what is stored is not what was written
     */
    public function readings(array $runs, array $series, ?callable $onDamage = null): PageReadings
    {
        if ($runs === []) {
            return new PageReadings([], []);
        }
        $found = [];
        $blocks = $this->connection->executeQuery(
            'SELECT series, from_at, checksum, packed FROM block WHERE series IN (?) AND from_at >= ? AND from_at <= ?',
            [$series, array_key_first($runs), array_key_last($runs)],
            [ArrayParameterType::INTEGER, ParameterType::INTEGER, ParameterType::INTEGER],
        );
        foreach ($blocks->iterateNumeric() as [$id, $from, $checksum, $packed]) {
            $found[Scalar::int($id)][Scalar::int($from)] = [Scalar::text($packed), Scalar::int($checksum)];
        }
        $columns = [];
        [$silent, $absent] = [ScrapeValues::silent(), ScrapeValues::absent()];
        foreach ($series as $id) {
            $parts = [];
            foreach ($runs as $from => $times) {
                if (!isset($found[$id][$from])) {
                    // Without a block it was not in any scrape of the run: if it was there before, it ended with the first of them.
                    $parts[] = [$absent, ...array_fill(0, count($times) - 1, $silent)];
                    continue;
                }
                try {
                    $parts[] = self::whole($found[$id][$from][0], $found[$id][$from][1], count($times));
                } catch (DamagedBlock $damage) {
                    $onDamage === null ? throw $damage : $onDamage($id, $from);
                    $parts[] = array_fill(0, count($times), $silent);
                }
            }
            $columns[$id] = array_merge(...$parts);
        }

        return new PageReadings(array_merge(...array_values($runs)), $columns);
    }

    /**
     * What is written anew gets a new checksum, so the old one must hold: damage would pass for whole from then on.
     *
     * @return list<float>
     *
     * @throws DamagedBlock
     */
    private static function whole(string $packed, int $checksum, int $times): array
    {
        if (crc32($packed) !== $checksum) {
            throw new DamagedBlock('The checksum of a block differs. Run the store check and restore the block from a backup.');
        }
        $values = BlockCodec::unpack($packed);

        return count($values) === $times
            ? $values
            : throw new DamagedBlock(sprintf('A block holds %d values for %d times.', count($values), $times));
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Series\BlockCodec;
use Olivine\Core\Series\DamagedBlock;
use Olivine\Core\Series\RollupCodec;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/** Reads every block, roll-up and scrape row back and holds it against what stands beside it. 1 where anything is damaged. */
#[AsCommand('olivine:store:verify', 'Checks every block against its count, sum and checksum')]
final class VerifyCommand extends Command
{
    private const MOST_TOLD = 50;

    private int $faults = 0;

    public function __construct(private readonly Connection $connection)
    {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $say = function (string $fault) use ($output): void {
            if (++$this->faults <= self::MOST_TOLD) {
                $output->writeln($fault);
            }
        };
        $began = microtime(true);
        [$blocks, $readings] = $this->blocks($say);
        $rollups = $this->rollups('5m', $say) + $this->rollups('1h', $say);
        $rows = $this->rows($say);
        $output->writeln(
            sprintf(
                '%d blocks with %d readings, %d roll-ups and %d scrape rows read in %.1f s: %s',
                $blocks,
                $readings,
                $rollups,
                $rows,
                microtime(true) - $began,
                $this->faults === 0 ? 'all whole' : "{$this->faults} damaged",
            ),
        );

        return $this->faults === 0 ? Command::SUCCESS : Command::FAILURE;
    }

    /**
     * @param callable(string): void $say
     *
     * @return array{int, int} blocks and readings
     */
    private function blocks(callable $say): array
    {
        $blocks = 0;
        $readings = 0;
        // Page by page, so that neither side of the join is held in memory.
        foreach ($this->connection->fetchFirstColumn('SELECT id FROM page ORDER BY id') as $page) {
            $times = [];
            foreach (
                $this->connection->fetchAllKeyValue('SELECT from_at, packed FROM block_time WHERE page = ?', [$page]) as $from => $packed
            ) {
                try {
                    $times[$from] = count(BlockCodec::unpackTimes(Scalar::text($packed)));
                } catch (DamagedBlock) {
                    $say('The times of page ' . Scalar::text($page) . " from {$from} cannot be read back");
                }
            }
            $rows = $this->connection->executeQuery(
                'SELECT b.series, b.from_at, b.readings, b.total, b.checksum, b.packed FROM block b JOIN series s ON s.id = b.series WHERE s.page = ?',
                [$page],
            );
            foreach ($rows->iterateNumeric() as [$series, $from, $count, $total, $checksum, $packed]) {
                ++$blocks;
                $fault = self::faultOf(
                    Scalar::text($packed),
                    Scalar::int($checksum),
                    Scalar::int($count),
                    Scalar::float($total),
                    $times[Scalar::int($from)] ?? 0,
                );
                if ($fault === null) {
                    $readings += Scalar::int($count);
                } else {
                    $say('Block of series ' . Scalar::text($series) . ' from ' . Scalar::text($from) . ": {$fault}");
                }
            }
        }

        return [$blocks, $readings];
    }

    private static function faultOf(string $packed, int $checksum, int $count, float $total, int $times): ?string
    {
        if (crc32($packed) !== $checksum) {
            return 'its checksum differs';
        }
        try {
            $values = BlockCodec::unpack($packed);
        } catch (DamagedBlock) {
            return 'its bytes cannot be read back';
        }
        $present = array_values(array_filter($values, static fn(float $value): bool => !is_nan($value)));
        $sum = (float) array_sum($present);
        if (!is_finite($sum)) {
            $sum = $sum > 0 ? PHP_FLOAT_MAX : -PHP_FLOAT_MAX;
        }

        return match (true) {
            count($values) !== $times => sprintf('it holds %d values for %d times', count($values), $times),
            count($present) !== $count => sprintf('it holds %d readings, not %d', count($present), $count),
            abs($sum - $total) > 1e-12 * max(1.0, abs($total)) => sprintf('its sum is %s, not %s', $sum, $total),
            default => null,
        };
    }

    /** @param callable(string): void $say */
    private function rollups(string $tier, callable $say): int
    {
        $checked = 0;
        $rows = $this->connection->executeQuery(
            "SELECT r.series, r.from_at, r.packed, t.packed FROM rollup_{$tier} r JOIN series s ON s.id = r.series
             LEFT JOIN rollup_time_{$tier} t ON t.page = s.page AND t.from_at = r.from_at",
        );
        foreach ($rows->iterateNumeric() as [$series, $from, $packed, $times]) {
            ++$checked;
            try {
                RollupCodec::unpack(Scalar::text($packed), RollupCodec::unpackTimes(Scalar::text($times)));
            } catch (DamagedBlock|\ValueError) {
                $say(
                    "Roll-up {$tier} of series " .
                        Scalar::text($series) .
                        ' from ' .
                        Scalar::text($from) .
                        ' cannot be read back',
                );
            }
        }

        return $checked;
    }

    /** @param callable(string): void $say */
    private function rows(callable $say): int
    {
        $checked = 0;
        foreach (
            $this->connection->executeQuery('SELECT page, at, LENGTH(packed) FROM scrape_row')->iterateNumeric() as [$page, $at, $length]
        ) {
            ++$checked;
            if (Scalar::int($length) % 8 !== 0) {
                $say(
                    'Scrape row of page ' .
                        Scalar::text($page) .
                        ' at ' .
                        Scalar::text($at) .
                        ' has ' .
                        Scalar::text($length) .
                        ' bytes, which is no whole number of values',
                );
            }
        }

        return $checked;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Olivine\App\Platform\Database;
use Olivine\App\Supervise\Instance;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\TextReader;
use Symfony\Component\Process\Process;

/** One collector process, 2,000 simulated targets of 200 series every 15 s, over real sockets: how late, what is missed, how much of a core. */
final readonly class CollectMeasure implements Measure
{
    private const TARGETS = 2_000;
    private const SERIES = 200;
    private const SETTLE_SECONDS = 75;
    private const MEASURED_SECONDS = 60;
    private const BASELINE_SCRAPES = 500;

    public function __construct(private BenchDatabase $server, private Instance $instance)
    {
    }

    public function name(): string
    {
        return 'collect';
    }

    public function run(callable $say): void
    {
        $this->server->with(function (Database $database) use ($say): void {
            $fleet = new Process(
                [PHP_BINARY, 'tools/bench-fleet.php', (string) self::SERIES],
                $this->instance->projectDir(),
                null,
                null,
                null,
            );
            $fleet->start();
            $fleet->waitUntil(static fn(string $type, string $text): bool => ctype_digit(trim($text)));
            $port = (int) trim($fleet->getOutput());
            for ($i = 0; $i < self::TARGETS; ++$i) {
                $database->connection->insert('target', [
                    'name' => "sim-{$i}",
                    'url' => "http://127.0.0.1:{$port}/{$i}",
                    'interval_seconds' => 15,
                    'timeout_seconds' => 10,
                    'labels' => '{}',
                    'paused' => 0,
                    'created_at' => 0,
                ]);
            }
            $collector = new MeasuredCollector($database, $this->instance->projectDir());
            try {
                $collector->measure('collect', 'scrapes', self::SETTLE_SECONDS, self::MEASURED_SECONDS, $say);
                $collector->stop();
                $say(
                    'collect.baseline_one_by_one_core_share',
                    ((self::oneByOne($port) * self::TARGETS) / 15) * 100,
                    '% of one core',
                );
            } finally {
                $collector->stop();
                $fleet->stop(1);
            }
        });
    }

    /**
     * @return float processor seconds a scrape, where each is a request of its own and each label is read anew; nothing is stored
     *
     * @throws BadExposition
     */
    private static function oneByOne(int $port): float
    {
        $from = ProcessorTime::of((int) getmypid());
        for ($i = 0; $i < self::BASELINE_SCRAPES; ++$i) {
            $curl = curl_init("http://127.0.0.1:{$port}/{$i}") ?: throw new \RuntimeException('curl is not there');
            curl_setopt_array($curl, [\CURLOPT_RETURNTRANSFER => true, \CURLOPT_ENCODING => '', \CURLOPT_FORBID_REUSE => true]);
            TextReader::read((string) curl_exec($curl), Form::OpenMetrics);
            curl_close($curl);
        }

        return (ProcessorTime::of((int) getmypid()) - $from) / self::BASELINE_SCRAPES;
    }
}

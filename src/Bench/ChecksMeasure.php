<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Olivine\App\Platform\Database;
use Olivine\App\Supervise\Instance;
use Symfony\Component\Process\Process;

/** One collector process, 10,000 HTTP checks a minute with words and a value each, over real sockets: how late, how much of a core. */
final readonly class ChecksMeasure implements Measure
{
    private const CHECKS = 1_667;
    private const INTERVAL_SECONDS = 10;
    private const SETTLE_SECONDS = 40;
    private const MEASURED_SECONDS = 60;
    private const CHECKS_A_STATEMENT = 200;

    public function __construct(private BenchDatabase $server, private Instance $instance)
    {
    }

    public function name(): string
    {
        return 'checks';
    }

    public function run(callable $say): void
    {
        $this->server->with(function (Database $database) use ($say): void {
            $shop = new Process([PHP_BINARY, 'tools/bench-fleet.php', '20'], $this->instance->projectDir(), null, null, null);
            $shop->start();
            $shop->waitUntil(static fn(string $type, string $text): bool => ctype_digit(trim($text)));
            $port = (int) trim($shop->getOutput());
            $rows = [];
            for ($i = 0; $i < self::CHECKS; ++$i) {
                $asks = ['kind' => 'http', 'steps' => [['url' => "http://127.0.0.1:{$port}/{$i}", 'expects' => '"# EOF" and not "sold out"']]];
                $rows[] = ["check-{$i}", '', 'http', json_encode($asks, JSON_THROW_ON_ERROR), '[1]', self::INTERVAL_SECONDS, 10, '{}', 0, 0];
            }
            $columns = ['name', 'url', 'kind', 'asks', 'places', 'interval_seconds', 'timeout_seconds', 'labels', 'paused', 'created_at'];
            foreach (array_chunk($rows, self::CHECKS_A_STATEMENT) as $chunk) {
                $database->insertNew('target', $columns, $chunk);
            }
            $collector = new MeasuredCollector($database, $this->instance->projectDir());
            try {
                $collector->measure($this->name(), 'checks', self::SETTLE_SECONDS, self::MEASURED_SECONDS, $say);
            } finally {
                $collector->stop();
                $shop->stop(1);
            }
        });
    }
}

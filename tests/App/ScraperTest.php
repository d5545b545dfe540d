<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Collect\Credentials;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Reach;
use Olivine\App\Collect\Scrape;
use Olivine\App\Collect\Scraper;
use Olivine\App\Collect\ScrapeRefused;
use Olivine\App\Collect\TargetReader;
use Olivine\App\Store\SeriesRegister;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\Limits;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/** Targets that misbehave, over real sockets: each scrape ends in time with a plain reason, and nothing of it is kept. */
final class ScraperTest extends TestCase
{
    /** Path → part of the reason; null where the scrape succeeds. */
    private const MISDEEDS = [
        '/hangs' => 'timed out|No answer within',
        '/drips' => 'timed out|No answer within',
        '/endless' => 'longer than',
        '/bomb' => 'longer than',
        '/circle' => 'redirects|status 302',
        '/cut' => 'closed the connection|Line',
        '/binary' => 'Line 2.*UTF-8',
        '/explodes' => 'at most 20000 series',
        '/history' => 'at most 100000 readings',
        '/empty' => 'holds no readings',
        '/away' => 'status 503',
        '/gzip' => null,
    ];

    /** Seconds for those that are cut off by their length, on a busy machine too; the others have 2. */
    private const LONGER = ['/endless' => 6, '/bomb' => 6];

    public function testEveryMisdeedEndsInTimeWithAPlainReasonAndTheOthersGoOn(): void
    {
        $server = new Process([PHP_BINARY, '-d', 'memory_limit=1G', __DIR__ . '/hostile-server.php']);
        $server->start();
        $server->waitUntil(static fn(string $type, string $text): bool => ctype_digit(trim($text)));
        $port = (int) trim($server->getOutput());
        $database = Instance::emptyDatabase('scraper');
        $register = new SeriesRegister($database);
        $scraper = new Scraper(
            new Credentials('a secret of the test', sys_get_temp_dir()),
            new Reach('loopback', 1),
            new Limits(bodyBytes: 4_000_000),
        );
        $targets = [];
        foreach (array_keys(self::MISDEEDS) as $i => $path) {
            $target = new Target("hostile{$path}", "http://127.0.0.1:{$port}{$path}", Instant::ofMs(0));
            $target->id = $i + 1;
            $target->timeoutSeconds = self::LONGER[$path] ?? 2;
            $database->connection->insert('target', [
                'id' => $target->id,
                'name' => $target->name,
                'url' => '',
                'interval_seconds' => 15,
                'timeout_seconds' => $target->timeoutSeconds,
                'labels' => '{}',
                'paused' => 0,
                'created_at' => 0,
            ]);
            $scraper->start($target);
            $targets[$path] = $target;
        }
        $from = microtime(true);
        $memory = memory_get_usage();
        $ended = [];
        while (count($ended) < count(self::MISDEEDS) && microtime(true) - $from < 15) {
            foreach ($scraper->advance(0.1) as $scrape) {
                $ended[(string) parse_url($scrape->target->url, PHP_URL_PATH)] = $scrape;
            }
        }
        $server->stop(0);
        self::assertCount(count(self::MISDEEDS), $ended, 'all ended');
        self::assertLessThan(8.0, microtime(true) - $from);
        self::assertLessThan(60_000_000, memory_get_usage() - $memory);
        foreach (self::MISDEEDS as $path => $reason) {
            $found = self::reason($ended[$path], new TargetReader($targets[$path], $register));
            if ($reason === null) {
                self::assertNull($found, $path);
            } else {
                self::assertMatchesRegularExpression("~{$reason}~", (string) $found, $path);
            }
        }
        $kept = $database->connection->fetchFirstColumn('SELECT DISTINCT target_id FROM series');
        self::assertSame([$targets['/gzip']->id], array_map(intval(...), $kept), 'only the good one left series');
    }

    private static function reason(Scrape $scrape, TargetReader $reader): ?string
    {
        if ($scrape->fault !== null) {
            return $scrape->fault;
        }
        try {
            $reader->read($scrape->body, $scrape->form, 1_795_000_000_000);

            return null;
        } catch (BadExposition|ScrapeRefused $error) {
            return $error->getMessage();
        }
    }
}

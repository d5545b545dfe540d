<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Rule\StoredRests;
use Olivine\App\Store\SeriesIndex;
use Olivine\App\Store\Standstills;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\TestCase;

/** While nobody collected nothing is missed: told of the spans that are over, and of one that goes on. */
final class StandstillTest extends TestCase
{
    use OverAStore;
    use WatchedParts;

    public function testWhatNobodyCollectedIsNobodysFault(): void
    {
        $database = Instance::emptyDatabase('standstill');
        $connection = $database->connection;
        $standstills = new Standstills($database);
        $index = new SeriesIndex($connection);
        $rests = new StoredRests($connection, $index, $standstills);
        $now = Instant::ofMs((int) (microtime(true) * 1000));
        $ago = static fn(int $seconds): Instant => $now->minus(Duration::ofSeconds($seconds));
        $target = $this->target($database, 'pier');
        $slot = $target->id() % 16;
        $connection->insert('metric', ['id' => 1, 'name' => 'depth', 'type' => 'gauge', 'unit' => '', 'help' => '']);
        $connection->insert('page', ['id' => 1, 'target_id' => $target->id(), 'own' => 0]);
        $connection->insert('series', [
            'target_id' => $target->id(),
            'metric_id' => 1,
            'page' => 1,
            'slot' => 0,
            'labels' => '{"queue":"a"}',
            'brings_labels' => 0,
            'identity' => str_repeat('a', 32),
            'first_at' => 0,
        ]);
        $why = static function (int $seconds) use ($rests, $ago): ?string {
            $rests->forget();

            return $rests->why(Parser::parse('mean(depth, 5m)'), LabelSet::of(['queue' => 'a', 'target' => 'pier']), $ago($seconds))?->words;
        };
        $settle = static fn(int $of, int $seconds) => $connection->executeStatement(
            'REPLACE INTO settled (part, slot, through_at) VALUES (?, ?, ?)',
            ['collector', $of, $ago($seconds)->ms],
        );

        $settle($slot, 1);
        self::assertNull($why(600), 'somebody collects');
        $settle($slot, 900);
        self::assertSame(['Olivine itself stood still', null], [$why(600), $why(1_000)], 'from where it came to, as long as it goes on');
        $settle(($slot + 1) % 16, 900);
        $standstills->note([$slot], $ago(300)->ms);
        $settle($slot, 1);
        self::assertSame(
            [null, 'Olivine itself stood still', 'Olivine itself stood still', null],
            [$why(900), $why(899), $why(300), $why(299)],
            'of its own slot, from after it until it goes on',
        );
        $standstills->note([$slot], $now->ms);
        self::assertSame(1, (int) $connection->fetchOne('SELECT COUNT(*) FROM standstill'), 'a moment is no standstill');
        self::assertSame([[$ago(900)->ms, $ago(300)->ms]], array_map(
            static fn($one): array => [$one->from->ms, $one->to->ms],
            $standstills->since($ago(1_000)),
        ));
        self::assertSame([], $standstills->since($ago(299)));

        // Whatever somebody paused ends its alerts, whether somebody collects or not.
        $connection->insert('target_rest', [
            'target_id' => $target->id(),
            'from_at' => $ago(700)->ms,
            'to_at' => $ago(500)->ms,
            'words' => 'paused by Ines',
        ]);
        self::assertSame(['pier was paused by Ines', 'Olivine itself stood still'], [$why(600), $why(400)]);
        $standstills->forgetBefore($ago(200)->ms);
        self::assertNull($why(400));
    }

    /** The one collector stops for twenty seconds and goes on: the span is written down, and what is told of it is the same ever after. */
    public function testACollectorThatStoodStillSaysSo(): void
    {
        $database = Instance::connect();
        $before = (int) $database->fetchOne('SELECT COUNT(*) FROM standstill');
        $collector = $this->parts()['collector']['pid'];
        posix_kill($collector, SIGSTOP);
        try {
            sleep(20);
        } finally {
            posix_kill($collector, SIGCONT);
        }
        Instance::eventually(static fn(): bool => (int) $database->fetchOne('SELECT COUNT(*) FROM standstill') > $before, 60, 'it is written down');
        $lengths = array_map(intval(...), $database->fetchFirstColumn('SELECT to_at - from_at FROM standstill ORDER BY to_at DESC LIMIT 1'));
        self::assertGreaterThanOrEqual(15_000, $lengths[0]);
        self::assertIsArray((new Client('viewer@saltmarsh.example'))->send('GET', '/api/watch')[1]['stoodStill']);
    }
}

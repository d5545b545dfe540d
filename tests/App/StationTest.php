<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Doctrine\DBAL\Connection;
use Olivine\App\Collect\Entity\Place;
use PHPUnit\Framework\TestCase;

/** Stations: programs that ask checks from elsewhere, each in a network of its own, and bring what they saw. */
final class StationTest extends TestCase
{
    use StationsApart;

    private Connection $database;

    protected function setUp(): void
    {
        $this->prepareStations();
        $this->database = Instance::connect();
    }

    protected function tearDown(): void
    {
        $this->stopStations();
    }

    /** Joins by one line, follows its orders, and what it saw through an outage of the centre and its own death is there once. */
    public function testNothingIsLostAndNothingDoubled(): void
    {
        $target = $this->served();
        $check = $this->check("{$this->name} ferry", $target);
        $this->running['relay'] = $this->relay($this->port, self::centre());
        $token = $this->token("{$this->name}*", [$check]);
        $this->running['station'] = $this->station($this->name, $token);
        $states = fn(): array => array_values(array_filter(
            $this->ines->send('GET', "/api/checks/{$check}")[1]['check']['states'],
            static fn(array $one): bool => $one['place'] !== Place::CENTRE,
        ));
        Instance::eventually(static fn(): bool => ($states()[0]['verdict'] ?? '') === 'runs', 60, 'it was asked from there');
        $place = $states()[0]['place'];
        $rows = fn(): array => $this->database->fetchFirstColumn(
            'SELECT r.at FROM scrape_row r JOIN page p ON p.id = r.page WHERE p.target_id = ? AND p.place = ? ORDER BY r.at',
            [$check, $place],
        );
        Instance::eventually(static fn(): bool => count($rows()) >= 3, 60, 'again and again');

        // The centre is away, and meanwhile the station dies.
        $this->running['relay']->stop(0);
        $away = (int) (microtime(true) * 1000);
        sleep(12);
        $this->running['station']->signal(SIGKILL);
        $this->running['station']->wait();
        $this->running['station'] = $this->station($this->name, 'no longer needed');
        sleep(8);
        self::assertSame([], array_filter($rows(), static fn(mixed $at): bool => (int) $at > $away + 3_000), 'nothing came of that time');
        $this->running['relay'] = $this->relay($this->port, self::centre());
        $back = (int) (microtime(true) * 1000);
        Instance::eventually(static fn(): bool => count(array_filter($rows(), static fn(mixed $at): bool => (int) $at > $back)) >= 2, 60, 'it goes on');
        $meanwhile = array_values(array_filter(array_map(intval(...), $rows()), static fn(int $at): bool => $at > $away && $at < $back));
        self::assertGreaterThanOrEqual(3, count($meanwhile), 'what it saw meanwhile came with its own times');
        $steps = array_map(static fn(int $a, int $b): int => $b - $a, array_slice($meanwhile, 0, -1), array_slice($meanwhile, 1));
        self::assertGreaterThan(4_000, min([INF, ...$steps]), 'none of it twice: ' . implode(' ', $steps));
        self::assertSame(0, (int) $this->database->fetchOne('SELECT COUNT(*) FROM arrival WHERE place = ?', [$place]));

        // Asked now, changed, and removed: it hears of each.
        $rarely = ['intervalSeconds' => 86_400, 'places' => [Place::CENTRE, $place]] + $this->body("{$this->name} ferry", $target);
        $version = $this->ines->send('GET', "/api/checks/{$check}")[1]['check']['version'];
        self::assertSame(200, $this->ines->send('PUT', "/api/checks/{$check}", $rarely + ['version' => $version])[0]);
        sleep(3);
        $before = count($rows());
        self::assertSame(204, $this->ines->send('POST', "/api/checks/{$check}/run", [])[0]);
        Instance::eventually(static fn(): bool => count($rows()) > $before, 30, 'it is asked from there now');
        $formula = rawurlencode("check_runs where target = \"{$this->name} ferry\" and place = \"{$this->name}\"");
        $curve = $this->ines->send('GET', "/api/chart?formula={$formula}&from=" . ($away - 60_000) . '&to=' . ($back + 60_000))[1];
        self::assertCount(1, $curve['lines'], 'its readings carry the name of the place');
        self::assertSame(204, $this->ines->send('DELETE', "/api/places/{$place}", [])[0]);
        $heard = fn(): string => $this->running['station']->getOutput();
        Instance::eventually(static fn(): bool => str_contains($heard(), 'not known here, or no longer'), 30, 'it is let in no more');
    }

    /**
     * In a network of its own, where nothing is reached but what is let through: cut off, its verdicts are held and a rule that wants two
     * places hears nothing; where the ferry is really down, two places say so.
     */
    public function testOurOwnOutageIsToldFromTheirs(): void
    {
        $this->needNetworks();
        [$ferry, $clock] = [$this->served(), $this->served()];
        $check = $this->check("{$this->name} ferry", $ferry, ['places' => [Place::CENTRE]]);
        $reference = $this->check("{$this->name} clock", $clock, ['isReference' => true, 'places' => [Place::CENTRE]]);
        $token = $this->token("{$this->name}*", [$check, $reference], 2);
        $this->stationsIn(['a', 'b'], $token, [$ferry, $clock]);
        $states = function (int $of): array {
            $page = $this->ines->send('GET', "/api/checks/{$of}")[1];
            $names = array_column($page['places'], 'name', 'id');
            $states = [];
            foreach ($page['check']['states'] as $one) {
                $states[$names[$one['place']]] = $one;
            }

            return $states;
        };
        // What is seen changes as time goes by.
        $verdicts = static fn(int $of): array => array_map(static fn(array $one): string => $one['verdict'], $states($of));
        [$a, $b] = ["{$this->name} a", "{$this->name} b"];
        Instance::eventually(static fn(): bool => ($verdicts($check)[$a] ?? '') === 'runs' && ($verdicts($check)[$b] ?? '') === 'runs', 90, 'both see it');

        // The line of one of them goes: it reaches the centre alone.
        $this->cut('a', $ferry);
        $this->cut('a', $clock);
        Instance::eventually(static fn(): bool => ($verdicts($check)[$a] ?? '') === 'unknown', 90, 'its verdict is held');
        self::assertStringContainsString("Held, since no reference answers here ({$this->name} clock); from here it is down", $states($check)[$a]['words']);
        self::assertSame('runs', $verdicts($check)[$b]);
        $places = fn(): array => array_column($this->ines->send('GET', '/api/places')[1]['places'], null, 'name');
        self::assertNotNull($places()[$a]['cutOffSince']);
        self::assertNull($places()[$b]['cutOffSince']);
        self::assertContains($a, $this->ines->send('GET', '/api/watch')[1]['cutOff']['places'] ?? []);
        self::assertFalse($this->ines->send('GET', '/api/watch')[1]['cutOff']['isAll'] ?? true, 'others still see');
        $value = function (string $formula): array {
            $span = '&from=' . ((time() - 30) * 1000) . '&to=' . (time() * 1000);
            $lines = $this->ines->send('GET', '/api/chart?formula=' . rawurlencode($formula) . $span)[1]['lines'] ?? [];

            return array_values(array_filter($lines[0]['values'] ?? [], is_numeric(...)));
        };
        $quorum = "sum(1 - max(check_runs where target = \"{$this->name} ferry\", 20s)) per target";
        Instance::eventually(static fn(): bool => max([0, ...array_map(floatval(...), $value($quorum))]) < 1, 60, 'nobody is said to see it down');

        // Now the ferry itself goes, for both; the line of the first is there again.
        $this->letThrough('a', $clock);
        $this->cut('b', $ferry);
        Instance::eventually(static fn(): bool => count(array_keys($verdicts($check), 'down', true)) === 2, 120, 'both see it down');
        Instance::eventually(static fn(): bool => !is_int($places()[$a]['cutOffSince']), 60, 'neither is cut off');
        Instance::eventually(static fn(): bool => max([0, ...array_map(floatval(...), $value($quorum))]) >= 2, 90, 'two of two places say so');
    }

    /** Whatever is brought to the door is taken, dropped or refused; nothing of it is a failure of ours, or stops what comes behind it. */
    public function testWhatIsBroughtMayBeGarbage(): void
    {
        $check = $this->check("{$this->name} ferry", $this->served());
        $token = $this->token($this->name, [$check]);
        $at = 'http://127.0.0.1:' . Instance::port(0);
        self::assertSame(401, self::posted("{$at}/in/station/join", ['token' => 'olivine-station-none', 'name' => $this->name])[0]);
        self::assertSame(422, self::posted("{$at}/in/station/join", ['token' => $token, 'name' => 'elsewhere'])[0], 'a name that does not fit');
        [$status, $joined] = self::posted("{$at}/in/station/join", ['token' => $token, 'name' => $this->name]);
        self::assertSame(201, $status);
        self::assertSame(401, self::posted("{$at}/in/station/join", ['token' => $token, 'name' => $this->name])[0], 'once is all it was for');
        $key = $joined['key'];
        self::assertSame(401, self::posted("{$at}/in/station/cycle", [], 'none')[0]);
        $result = static fn(int $number, array $other = []): array => $other + [
            'number' => $number,
            'check' => $check,
            'at' => time() * 1000,
            'seconds' => 0.1,
            'verdict' => 'down',
            'words' => 'Nothing listens',
            'readings' => [['check_runs', 0.0, (object) [], 'gauge', '', '']],
            'steps' => [],
            'answer' => '',
        ];
        $cycle = static fn(array $results, int $ahead = 0): array => [
            'now' => (time() + $ahead) * 1000,
            'revision' => '',
            'results' => $results,
            'figures' => [],
        ];
        mt_srand(20261129);
        $values = [null, -1, 1e300, '', 'x', [], [[]], true, PHP_INT_MAX, str_repeat('x', 2_000), ['check_runs'], (object) ['a' => 1], "\u{0}"];
        for ($number = 1; $number <= 300; ++$number) {
            $bad = $result($number);
            for ($i = mt_rand(1, 3); $i > 0; --$i) {
                $bad[array_rand($bad)] = $values[array_rand($values)];
            }
            [$status] = self::posted("{$at}/in/station/cycle", $cycle([$bad]), $key);
            self::assertLessThan(500, $status, (string) json_encode($bad));
        }
        [$status, $answer] = self::posted("{$at}/in/station/cycle", $cycle([$result(1_000), $result(1_000), $result(1_001, ['check' => 1])]), $key);
        self::assertSame([200, 1_001], [$status, $answer['taken']]);
        self::assertSame([$check], array_column($answer['checks'], 'id'));
        $place = (int) $this->database->fetchOne('SELECT id FROM place WHERE name = ?', [$this->name]);
        $state = fn(): array => array_column($this->ines->send('GET', "/api/checks/{$check}")[1]['check']['states'], null, 'place')[$place] ?? [];
        Instance::eventually(static fn(): bool => ($state()['words'] ?? '') === 'Nothing listens', 40, 'what is well formed is taken');

        // A clock that is an hour fast: what it saw counts where it was.
        $ahead = $result(1_002, ['at' => (time() + 3_600) * 1000, 'words' => 'An hour ahead']);
        [$status] = self::posted("{$at}/in/station/cycle", $cycle([$ahead], 3_600), $key);
        self::assertSame(200, $status);
        Instance::eventually(static fn(): bool => ($state()['words'] ?? '') === 'An hour ahead', 40, 'it is taken');
        self::assertEqualsWithDelta(time() * 1000, $state()['at'], 30_000);
        $shown = array_column($this->ines->send('GET', '/api/places')[1]['places'], null, 'id')[$place];
        self::assertEqualsWithDelta(3_600_000, $shown['load']['clockAheadMs'], 5_000);
    }

    /**
     * @param array<string, mixed> $body
     *
     * @return array{int, array<mixed>}
     */
    private static function posted(string $url, array $body, string $key = ''): array
    {
        $context = stream_context_create(['http' => [
            'method' => 'POST',
            'header' => ['Content-Type: application/json', ...($key === '' ? [] : ["Authorization: Bearer {$key}"])],
            'content' => (string) json_encode($body, JSON_INVALID_UTF8_SUBSTITUTE),
            'ignore_errors' => true,
            'timeout' => 30,
        ]]);
        $answer = json_decode((string) file_get_contents($url, false, $context), true);

        return [(int) explode(' ', $http_response_header[0] ?? '')[1], is_array($answer) ? $answer : []];
    }
}

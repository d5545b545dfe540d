<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\HttpClient\HttpClient;

/** Readings that are handed in, as a job hands them in that is over before anybody could ask it; the running collector notes them. */
final class PushedTest extends TestCase
{
    private Client $ines;
    private string $token;
    private string $name;
    private int $tokenId;

    protected function setUp(): void
    {
        $this->ines = new Client('ines@saltmarsh.example');
        $this->name = 'copy to skarn/' . bin2hex(random_bytes(4));
        $made = $this->ines->send('POST', '/api/tokens', ['name' => $this->name, 'scopes' => ['readings'], 'days' => 1])[1];
        [$this->token, $this->tokenId] = [$made['token'], $made['id']];
    }

    protected function tearDown(): void
    {
        $this->ines->send('DELETE', "/api/tokens/{$this->tokenId}", []);
        $target = $this->target();
        if ($target !== null) {
            $this->ines->send('DELETE', "/api/targets/{$target['id']}", []);
        }
    }

    /** They hold until others come, or the source says that they end; each form is taken; types, units and labels are kept. */
    public function testHoldsUntilOthersComeOrItEnds(): void
    {
        [$status, $taken] = $this->handIn('{"rows_copied": 1200, "copied_bytes": [{"value": 5, "labels": {"disk": "a"}, "unit": "bytes"}]}');
        self::assertSame([200, $this->name, 2], [$status, $taken['name'], $taken['readings']]);
        self::assertEqualsWithDelta(microtime(true) + 86_400, $taken['endsAt'] / 1000, 60);
        Instance::eventually(fn(): bool => $this->now('rows_copied') === [1200.0], 30, 'the first is noted');
        self::assertSame([5.0], $this->now('copied_bytes where disk = "a"'));
        $text = "# TYPE rows_copied gauge\nrows_copied 1300\n# EOF\n";
        self::assertSame(200, $this->handIn($text, 'application/openmetrics-text; version=1.0.0')[0]);
        Instance::eventually(fn(): bool => $this->now('rows_copied') === [1300.0], 30, 'the second takes its place');
        Instance::eventually(fn(): bool => $this->now('copied_bytes') === [], 30, 'what is not said any more ended');
        self::assertSame($text, $this->ines->send('GET', "/api/targets/{$taken['id']}/raw")[2]);
        self::assertSame(['pushed', true], [$this->target()['kind'] ?? '', $this->target()['status']['ok'] ?? false]);

        self::assertSame(204, $this->ask('DELETE', ''));
        Instance::eventually(fn(): bool => $this->now('rows_copied') === [], 30, 'it said that they end');
        self::assertStringContainsString('holds no more', $this->target()['status']['notice'] ?? '');
        self::assertSame(200, $this->handIn('{"rows_copied": 7}')[0]);
        Instance::eventually(fn(): bool => $this->now('rows_copied') === [7.0], 30, 'and goes on with the next run');
        Instance::connect()->executeStatement('UPDATE pushed SET ends_at = 1 WHERE target_id = ?', [$taken['id']]);
        Instance::eventually(fn(): bool => $this->now('rows_copied') === [], 40, 'their time is over');
    }

    /** Whoever knows certificates may hand in when they end; they stand in the list beside those that checks see. */
    public function testCertificatesStandInTheList(): void
    {
        $at = static fn(int $days): int => (int) floor(microtime(true) / 86_400 + $days) * 86_400;
        $text = "# TYPE certificate_end_timestamp_seconds gauge\n";
        foreach ([['late', 'b', 90], ['soon', 'a', 3], ['soon', 'b', 5]] as [$subject, $issuer, $days]) {
            $text .= "certificate_end_timestamp_seconds{subject=\"{$subject}\",issuer=\"{$issuer}\",file=\"/etc/{$subject}.pem\"} {$at($days)}\n";
        }
        $text .= "# TYPE certificate_file_unread gauge\ncertificate_file_unread{file=\"/etc/torn.pem\"} 1\n";
        $text .= "certificate_file_unread{file=\"/etc/late.pem\"} 0\n# EOF\n";
        self::assertSame(200, $this->handIn($text, 'application/openmetrics-text')[0]);
        $listed = fn(): array => array_values(array_filter(
            $this->ines->send('GET', '/api/certificates')[1]['certificates'],
            fn(array $one): bool => $one['name'] === $this->name,
        ));
        Instance::eventually(static fn(): bool => count($listed()) === 3, 30, 'they are listed');
        $names = array_map(static fn(array $one): string => "{$one['subject']} by {$one['issuer']}", $listed());
        self::assertSame(['soon by a', 'soon by b', 'late by b'], $names);
        self::assertSame(['/etc/soon.pem', 1000 * $at(3), 'pushed'], [$listed()[0]['file'], $listed()[0]['endsAt'], $listed()[0]['kind']]);
        $unread = $this->ines->send('GET', '/api/certificates')[1]['unread'];
        self::assertContains("/etc/torn.pem on {$this->name}", $unread);
        self::assertNotContains("/etc/late.pem on {$this->name}", $unread);
        // What ends within two days lies ahead on Watch.
        $tonight = (int) floor(microtime(true)) + 20 * 3_600;
        $this->handIn(str_replace((string) $at(3), (string) $tonight, $text), 'application/openmetrics-text');
        Instance::eventually(static fn(): bool => $listed()[0]['endsAt'] === 1000 * $tonight, 30, 'it ends earlier now');
        Instance::connect()->executeStatement("DELETE FROM worked_out WHERE name = 'certificate ends'");
        $ahead = $this->ines->send('GET', '/api/watch?back=6&ahead=24')[1]['forecasts'];
        self::assertContains(['the certificate of soon ends', 1000 * $tonight], array_map(static fn(array $one): array => [$one['words'], $one['at']], $ahead));
    }

    /** Its labels are laid over all of it, as over a target's; its name is its own. */
    public function testIsSetUpAsATargetIs(): void
    {
        $id = $this->handIn('{"rows_copied": 1}')[1]['id'];
        Instance::eventually(fn(): bool => $this->now('rows_copied') === [1.0], 30, 'it is noted');
        $there = $this->target();
        self::assertNotNull($there);
        $set = ['url' => $there['url'], 'labels' => ['site' => 'skarn'], 'version' => $there['version']];
        self::assertSame(200, $this->ines->send('PUT', "/api/targets/{$id}", $set)[0]);
        Instance::eventually(fn(): bool => $this->now('rows_copied where site = "skarn"') === [1.0], 30, 'the label is there');
        $renamed = ['name' => 'another', 'version' => $this->target()['version'] ?? 0] + $set;
        self::assertSame([422, 'name'], self::refusal($this->ines->send('PUT', "/api/targets/{$id}", $renamed)));
    }

    /** @return iterable<string, array{string, string, int, string, string}> body, query, status, field, words */
    public static function refused(): iterable
    {
        yield 'no number' => ['{"a": "x"}', '', 422, 'a', 'must be a number'];
        yield 'a name that is none' => ['{"a b": 1}', '', 422, 'a b', 'no name of a metric'];
        yield 'the same twice' => ["a 1\na 2\n", '', 422, 'body', 'Line 2'];
        yield 'a time of its own' => ["a 1 1700000000000\n", '', 422, 'body', 'a carries a time'];
        yield 'nothing' => ["# EOF\n", '', 422, 'body', 'no readings'];
        yield 'bytes that are no text' => ["\xff\xfe\x00", '', 422, 'body', 'Line 1'];
        yield 'too long' => ['{"a": 1}', '?seconds=99999999', 422, 'seconds', 'from 30 to'];
        yield 'too short' => ['{"a": 1}', '?seconds=1', 422, 'seconds', 'from 30 to'];
        yield 'too much' => [str_repeat('x', 4_000_001), '', 413, '', 'more than is taken at once'];
        yield 'more series than a target may bring' => [
            implode('', array_map(static fn(int $i): string => "a{i=\"{$i}\"} 1\n", range(1, 20_001))), '', 422, 'body', 'at most 20000 series',
        ];
    }

    #[DataProvider('refused')]
    public function testNothingOfItIsTaken(string $body, string $query, int $status, string $field, string $words): void
    {
        [$answered, $problem] = $this->handIn($body, 'text/plain', $query);
        self::assertSame([$status, $field], [$answered, $problem['field'] ?? '']);
        self::assertStringContainsString($words, $problem['title']);
        self::assertNull($this->target(), 'and no source is made');
    }

    public function testWhoMayHandIn(): void
    {
        $other = (string) array_column($this->ines->send('GET', '/api/targets')[1], 'name', 'kind')['scrape'];
        self::assertSame(422, $this->handIn('{"a": 1}', name: $other)[0], 'a target of that name is there');
        self::assertSame(422, $this->handIn('{"a": 1}', name: str_repeat('n', 121))[0]);
        self::assertSame(404, $this->ask('DELETE', ''), 'nothing was handed in yet');
        $with = fn(string $method, string $path): int => self::http()
            ->request($method, $path, ['headers' => ['Authorization' => "Bearer {$this->token}"]])
            ->getStatusCode();
        self::assertSame(403, $with('GET', '/api/targets'), 'a token for handing in does not read');
        self::assertSame(403, $with('POST', '/api/targets'));
        foreach ([['Authorization' => 'Bearer nobody'], ['Content-Type' => 'application/json']] as $headers) {
            self::assertSame(401, self::http()->request('POST', '/api/pushed/x', ['headers' => $headers, 'body' => '{"a": 1}'])->getStatusCode());
        }
    }

    /** Twenty that begin in the same moment: one source, and nobody hears of the others. */
    public function testManyBeginInTheSameMoment(): void
    {
        $http = self::http();
        $path = '/api/pushed/' . rawurlencode($this->name);
        $asked = array_map(fn(int $i) => $http->request('POST', $path, [
            'headers' => ['Authorization' => "Bearer {$this->token}", 'Content-Type' => 'application/json'],
            'body' => "{\"a\": {$i}}",
        ]), range(1, 20));
        self::assertSame([200 => 20], array_count_values(array_map(static fn($one): int => $one->getStatusCode(), $asked)));
        self::assertCount(1, array_filter($this->ines->send('GET', '/api/targets')[1], fn(array $one): bool => $one['name'] === $this->name));
    }

    /** @return array{int, array<string, mixed>} */
    private function handIn(string $body, string $type = 'application/json', string $query = '', ?string $name = null): array
    {
        $response = self::http()->request('POST', '/api/pushed/' . rawurlencode($name ?? $this->name) . $query, [
            'headers' => ['Authorization' => "Bearer {$this->token}", 'Content-Type' => $type],
            'body' => $body,
        ]);

        return [$response->getStatusCode(), $response->toArray(false)];
    }

    private function ask(string $method, string $body): int
    {
        return self::http()->request($method, '/api/pushed/' . rawurlencode($this->name), [
            'headers' => ['Authorization' => "Bearer {$this->token}"],
            'body' => $body,
        ])->getStatusCode();
    }

    private static function http(): \Symfony\Contracts\HttpClient\HttpClientInterface
    {
        return HttpClient::create(['base_uri' => Instance::web(), 'timeout' => 60]);
    }

    /** @return array<string, mixed>|null */
    private function target(): ?array
    {
        return array_find($this->ines->send('GET', '/api/targets')[1], fn(array $one): bool => $one['name'] === $this->name);
    }

    /** @return list<float> what a formula about this source gives now */
    private function now(string $formula): array
    {
        $about = str_contains($formula, ' where ') ? "{$formula} and" : "{$formula} where";
        $to = (int) (microtime(true) * 1000);
        $asked = ['formula' => "{$about} target = \"{$this->name}\"", 'from' => $to - 60_000, 'to' => $to];
        $found = $this->ines->send('GET', '/api/chart?' . http_build_query($asked));
        if ($found[0] === 422) {
            // Nobody has brought such a metric yet.
            return [];
        }
        self::assertSame(200, $found[0], $found[2]);
        $last = array_map(static fn(array $line): mixed => $line['values'][count($line['values']) - 1], $found[1]['lines']);

        return array_map(floatval(...), array_values(array_filter($last, static fn(mixed $one): bool => $one !== null)));
    }

    /**
     * @param array{int, array<array-key, mixed>, string} $answer
     *
     * @return array{int, mixed}
     */
    private static function refusal(array $answer): array
    {
        return [$answer[0], $answer[1]['field'] ?? ''];
    }
}

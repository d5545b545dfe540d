<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use PHPUnit\Framework\TestCase;
use Symfony\Component\HttpClient\HttpClient;

/** What another program may do with a token, and what ends that. */
final class TokenTest extends TestCase
{
    private Client $engineer;
    /** @var list<int> */
    private array $made = [];

    protected function setUp(): void
    {
        $this->engineer = new Client('ines@saltmarsh.example');
    }

    protected function tearDown(): void
    {
        $admin = new Client('admin@saltmarsh.example');
        array_map(static fn(int $id): array => $admin->send('DELETE', "/api/tokens/{$id}", []), $this->made);
    }

    public function testATokenReadsAndChangesWhatItIsForAndNothingElse(): void
    {
        $letOthers = Instance::alone('plan');
        $reads = $this->token('only reads', []);
        $delivers = $this->token('from the repository', ['delivery']);
        $of = static fn(string $name): array => [
            'definition' => ['name' => $name, 'for' => 'service = "tokens"', 'ladder' => 'on call'],
        ];
        $cases = [
            [$reads, 'GET', '/api/plan', null, 200, ''],
            [$reads, 'GET', '/api/rules', null, 200, ''],
            [$reads, 'POST', '/api/plan/draft/paths', $of('by token'), 403, 'it only reads'],
            [$delivers, 'POST', '/api/plan/draft/paths', $of('by token'), 201, ''],
            [$delivers, 'DELETE', '/api/plan/draft', [], 204, ''],
            [$delivers, 'POST', '/api/rules', PlainRule::of(['name' => 'By token']), 403, 'it is for delivery'],
            [$delivers, 'POST', '/api/channels', ['name' => 'x', 'url' => 'https://a.example/'], 403, ''],
            [$delivers, 'PUT', '/api/settings', [], 403, ''],
            [$delivers, 'POST', '/api/people', [], 403, ''],
            [$delivers, 'POST', '/api/tokens', ['name' => 'another'], 403, ''],
            ['olivine_' . str_repeat('0', 40), 'GET', '/api/plan', null, 401, 'The token is none, or has ended'],
            ['', 'GET', '/api/plan', null, 401, ''],
        ];
        foreach ($cases as [$token, $method, $path, $body, $status, $words]) {
            [$answered, $text] = self::ask($token, $method, $path, $body);
            self::assertSame($status, $answered, "{$method} {$path}: {$text}");
            self::assertStringContainsString($words, $text);
        }
        self::assertSame([], array_filter($this->listed(), static fn(array $one): bool => $one['usedAt'] === null), 'when each was used last is told');
        $letOthers();
    }

    public function testWhatEndsAToken(): void
    {
        $status = static fn(string $token): int => self::ask($token, 'GET', '/api/plan', null)[0];
        [$past, $ended] = [$this->token('past its end', []), $this->token('ended by hand', [])];
        self::assertSame([200, 200], [$status($past), $status($ended)]);
        Instance::connect()->executeStatement('UPDATE access_token SET ends_at = 1 WHERE id = ?', [$this->made[0]]);
        self::assertSame(404, (new Client('oyelaran@saltmarsh.example'))->send('DELETE', "/api/tokens/{$this->made[1]}", [])[0], 'whose it is not');
        self::assertSame(204, $this->engineer->send('DELETE', "/api/tokens/{$this->made[1]}", [])[0]);
        self::assertSame([401, 401], [$status($past), $status($ended)]);
        foreach ([['scopes' => ['people']], ['days' => 0], ['days' => 400], ['name' => '']] as $wrong) {
            self::assertSame(422, $this->engineer->send('POST', '/api/tokens', $wrong + ['name' => 'wrong'])[0]);
        }
    }

    /** A viewer's token may no more than the viewer, whatever it is for. */
    public function testATokenMayNoMoreThanWhoMadeIt(): void
    {
        $viewer = new Client('viewer@saltmarsh.example');
        [, $made] = $viewer->send('POST', '/api/tokens', ['name' => 'of a viewer', 'scopes' => ['delivery']]);
        $this->made[] = $made['id'];
        self::assertSame(403, self::ask($made['token'], 'DELETE', '/api/plan/draft', [])[0]);
    }

    /** @param list<string> $scopes */
    private function token(string $name, array $scopes): string
    {
        [$status, $made, $text] = $this->engineer->send('POST', '/api/tokens', ['name' => $name, 'scopes' => $scopes, 'days' => 7]);
        self::assertSame(201, $status, $text);
        $this->made[] = $made['id'];

        return $made['token'];
    }

    /** @return list<array<string, mixed>> */
    private function listed(): array
    {
        return array_values(array_filter(
            $this->engineer->send('GET', '/api/tokens')[1],
            fn(array $one): bool => in_array($one['id'], $this->made, true),
        ));
    }

    /**
     * @param array<string, mixed>|null $body
     *
     * @return array{int, string}
     */
    private static function ask(string $token, string $method, string $path, ?array $body): array
    {
        $response = HttpClient::create(['base_uri' => Instance::web(), 'timeout' => 60])->request($method, $path, [
            'headers' => ['Authorization' => "Bearer {$token}", 'Content-Type' => 'application/json'],
            'body' => $body === null ? '' : json_encode($body, JSON_THROW_ON_ERROR),
        ]);

        return [$response->getStatusCode(), $response->getContent(false)];
    }
}

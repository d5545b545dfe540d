<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use PHPUnit\Framework\TestCase;

/** What people do with incidents beside taking them: giving them to somebody, making one of two and two of one. */
final class HandsTest extends TestCase
{
    use MadeUpAlerts;

    public function testWhoeverIsGivenAnIncidentHearsOfIt(): void
    {
        $id = $this->raised('Made-up queue', 'a');
        $tomasz = array_column($this->engineer->send('GET', '/api/people')[1], 'id', 'email')['tomasz@saltmarsh.example'];
        [$status, $detail, $text] = $this->engineer->send('POST', "/api/incidents/{$id}/assign", ['person' => $tomasz, 'note' => 'you know this broker']);
        self::assertSame([200, 'acknowledged', 'Tomasz Reyes'], [$status, $detail['status'] ?? $text, $detail['acknowledgedBy'] ?? null]);
        self::assertContains('Ines Duarte gave it to Tomasz Reyes: you know this broker', array_column($detail['trail'], 'words'));
        $words = fn(): string => implode("\n", array_column($this->detail($id)['trail'], 'words'));
        Instance::eventually(static fn(): bool => str_contains($words(), 'given to: e-mail to Tomasz Reyes, taken'), 40, 'they are told');
        $letters = array_filter(Instance::letters(), static fn(array $one): bool => str_contains($one['subject'] ?? '', '[yours: major] Made-up queue'));
        self::assertNotSame([], $letters);

        $viewer = array_column($this->engineer->send('GET', '/api/people')[1], 'id', 'email')['viewer@saltmarsh.example'];
        [$status, $problem] = $this->engineer->send('POST', "/api/incidents/{$id}/assign", ['person' => $viewer]);
        self::assertSame([422, 'person'], [$status, $problem['field'] ?? null]);
    }

    /** A ladder that is climbed until it is over tells the next one although somebody has it. */
    public function testALadderUntilItIsOverGoesOnWhoeverHasIt(): void
    {
        $letOthers = Instance::alone('plan');
        $before = $this->engineer->send('GET', '/api/plan')[1]['inService']['number'];
        $person = static fn(string $name): array => ['listener' => 'person', 'name' => "{$name}@saltmarsh.example"];
        $rungs = [['who' => [$person('ines')], 'afterSeconds' => 8], ['who' => [$person('tomasz')], 'afterSeconds' => 0]];
        try {
            $this->engineer->send('DELETE', '/api/plan/draft', []);
            $ladder = ['name' => 'stubborn', 'rungs' => $rungs, 'until' => 'resolved'];
            $this->engineer->send('POST', '/api/plan/draft/ladders', ['definition' => $ladder]);
            $path = ['name' => 'stubborn', 'ladder' => 'stubborn', 'for' => "service = \"{$this->service}\"", 'per' => ['service'], 'gatherSeconds' => 0];
            $page = $this->engineer->send('POST', '/api/plan/draft/paths', ['definition' => $path])[1];
            self::assertSame(200, $this->engineer->send('PUT', '/api/plan', ['version' => $page['draft']['version']])[0]);
            $id = $this->raised('Made-up queue', 'a');
            $words = fn(): string => implode("\n", array_column($this->detail($id)['trail'], 'words'));
            Instance::eventually(static fn(): bool => str_contains($words(), 'rung 1: e-mail to Ines Duarte, taken'), 40, 'the first is told');
            self::assertSame(200, $this->engineer->send('POST', "/api/incidents/{$id}/acknowledge", [])[0]);
            Instance::eventually(static fn(): bool => str_contains($words(), 'rung 2: e-mail to Tomasz Reyes, taken'), 40, 'and so is the second');
        } finally {
            $page = $this->engineer->send('POST', '/api/plan/draft', ['revision' => $before])[1];
            $this->engineer->send('PUT', '/api/plan', ['version' => $page['draft']['version']]);
            $letOthers();
        }
    }

    public function testOneOfTwoAndTwoOfOne(): void
    {
        $first = $this->raised('Made-up queue', 'a');
        $this->happens($this->rule('Made-up disk', 'major'), 'b', 'building', 'raised', 'major', 500);
        Instance::eventually(fn(): bool => count($this->detail($first)['alerts']) === 2, 30, 'it joins');
        $key = array_column($this->detail($first)['alerts'], 'key', 'name')['Made-up disk on broker-test (b)'];
        [$status, $second, $text] = $this->engineer->send('POST', "/api/incidents/{$first}/split", ['alerts' => [$key]]);
        self::assertSame([200, "{$this->service}, apart from {$first}"], [$status, $second['service'] ?? $text]);
        self::assertStringStartsWith('Made-up disk on broker-test (b)', $second['title']);
        self::assertSame([1, 1], [count($second['alerts']), count($this->detail($first)['alerts'])]);

        [$status, , $text] = $this->engineer->send('POST', "/api/incidents/{$second['id']}/split", ['alerts' => [$key]]);
        self::assertSame(422, $status, $text);
        [$status] = $this->engineer->send('POST', "/api/incidents/{$first}/merge", ['into' => $first]);
        self::assertSame(422, $status);
        [$status, $merged, $text] = $this->engineer->send('POST', "/api/incidents/{$second['id']}/merge", ['into' => $first]);
        self::assertSame([200, $first, 2], [$status, $merged['id'] ?? $text, count($merged['alerts'] ?? [])]);
        self::assertSame('resolved', $this->detail($second['id'])['status']);
        self::assertSame(409, $this->engineer->send('POST', "/api/incidents/{$second['id']}/merge", ['into' => $first])[0]);

        foreach ($this->detail($first)['alerts'] as $alert) {
            $this->happens($alert['ruleId'], $alert['labels']['queue'], 'easing', 'calm', 'major', 200);
        }
        Instance::eventually(fn(): bool => $this->detail($first)['status'] === 'resolved', 30, 'it is over when both are');
        $this->database->executeStatement('DELETE FROM incident WHERE id = ?', [$second['id']]);
    }

    /** What it was of before stands behind, also once all of it is over. */
    public function testAnIncidentThatOpenedAgainIsOfWhatOpenedIt(): void
    {
        $first = $this->raised('Made-up queue', 'a');
        $over = fn(): bool => $this->detail($first)['status'] === 'resolved';
        $names = fn(): array => array_column($this->detail($first)['alerts'], 'name');
        $this->happens($this->detail($first)['alerts'][0]['ruleId'], 'a', 'easing', 'calm', 'major', 200);
        Instance::eventually($over, 30, 'it is over');
        $disk = $this->rule('Made-up disk', 'minor');
        $this->happens($disk, 'b', 'building', 'raised', 'minor', 500);
        Instance::eventually(static fn(): bool => !$over(), 30, 'it is opened again');
        $this->happens($disk, 'b', 'easing', 'calm', 'minor', 200);
        Instance::eventually($over, 30, 'and is over again');
        self::assertSame(['Made-up disk on broker-test (b)', 'Made-up queue on broker-test (a)'], $names());
    }

    private function raised(string $rule, string $queue): int
    {
        $this->happens($this->rule($rule, 'major'), $queue, 'building', 'raised', 'major', 500);
        $found = fn(): mixed => $this->database->fetchOne('SELECT id FROM incident WHERE service = ?', [$this->service]);
        Instance::eventually(static fn(): bool => $found() !== false, 30, 'it opens');

        return (int) $found();
    }

    /** @return array<array-key, mixed> */
    private function detail(int $id): array
    {
        return $this->engineer->send('GET', "/api/incidents/{$id}")[1];
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\Browser;

use Facebook\WebDriver\WebDriverKeys;
use Olivine\Tests\App\Client;
use Olivine\Tests\App\Instance;
use PHPUnit\Framework\TestCase;

/** What comes between looking and pressing, and between typing and keeping: another incident, a failed answer, the end of a session. */
final class NothingIsLostTest extends TestCase
{
    use SignedIn;

    public function testKeysActOnWhatIsChosenAndANoteOutlivesAnotherChoice(): void
    {
        $browser = self::$browser;
        $client = new Client('ines@saltmarsh.example');
        $open = static fn(): array => array_column($client->send('GET', '/api/watch')[1]['open'], 'status', 'id');
        $database = Instance::connect();
        $database->insert('incident', [
            'service' => 'keys',
            'title' => 'The gate stands open',
            'severity' => 'minor',
            'status' => 'open',
            'opened_at' => (int) (microtime(true) * 1000),
            'replayed' => 1,
        ]);
        $mine = (int) $database->lastInsertId();
        $before = [];
        Instance::eventually(
            static function () use ($open, $mine, &$before): bool {
                $before = $open();

                return ($before[$mine] ?? null) === 'open';
            },
            10,
            'it stands on Watch',
        );
        $keys = static fn(string ...$keys) => $browser->driver->getKeyboard()->sendKeys($keys);

        $browser->go('/');
        $browser->waitForText('Trail');
        $keys('a');
        $browser->waitForText('No incident is chosen');
        $keys('j');
        Instance::eventually(static fn(): bool => str_contains($browser->driver->getCurrentURL(), '/incidents/'), 10, 'j chooses the first');
        $chosen = $browser->driver->getCurrentURL();
        // With a modifier, and in a dialog, a letter is nobody's key.
        $browser->driver->getKeyboard()->sendKeys([WebDriverKeys::ALT, 'a', WebDriverKeys::NULL]);
        $keys('?');
        $browser->waitForText('acknowledge the chosen incident');
        $keys('a', 'j', WebDriverKeys::ESCAPE);
        self::assertSame($before, array_intersect_key($open(), $before));
        self::assertSame($chosen, $browser->driver->getCurrentURL());

        $note = static fn() => $browser->find('input[aria-label=Note]');
        $note()->sendKeys('The pier says a lorry stands at the gate');
        $browser->follow('/rules');
        $browser->waitForText('in service');
        $browser->follow((string) parse_url($chosen, PHP_URL_PATH));
        self::assertSame('The pier says a lorry stands at the gate', $note()->getAttribute('value'));
        $note()->sendKeys([[WebDriverKeys::CONTROL, 'a'], WebDriverKeys::BACKSPACE]);
        self::assertSame([], $browser->consoleErrors());
        $database->delete('incident', ['id' => $mine]);
    }

    public function testAFailedAnswerIsNoEmptyOneAndWhatWasThereStays(): void
    {
        $browser = self::$browser;
        foreach (
            [
                ['/fleet', '/api/targets', 'gate-e1', 'the targets'],
                ['/rules', '/api/rules', 'Boarding queue', 'the rules'],
                ['/', '/api/watch', 'Open now', 'Watch'],
            ] as [$page, $asked, $there, $what]
        ) {
            $browser->go($page);
            $browser->waitForText($there);
            $browser->driver->executeScript(self::failing($asked));
            $browser->waitForText("You see {$what} of", 30);
            $browser->waitForText('The tide took it');
            self::assertStringContainsString($there, $browser->text(), 'what was there stays');
            self::assertSame([], $browser->accessibilityFindings());
            // In one go: the page asks again by itself too.
            $browser->driver->executeScript(
                'window.fetch = window.kept; [...document.querySelectorAll("button")].find((one) => one.textContent === "Try again")?.click()',
            );
            Instance::eventually(static fn(): bool => !str_contains($browser->text(), 'The tide took it'), 20, "{$what}: it is over");
        }
        // Nothing was there before: the reason stands in its place, and nothing looks empty.
        $browser->driver->executeScript(self::failing('/api/cost'));
        $browser->follow('/fleet/cost');
        $browser->waitForText('Olivine could not show what collecting takes. The tide took it', 30);
        $browser->driver->executeScript('window.fetch = window.kept');
        $browser->press('Try again');
        $browser->waitForText('The labels that cost most');
    }

    /** A draft that is kept while its rule is on its way into service is no draft any more, however late the answer comes. */
    public function testWhatIsInServiceLeavesNoDraftBehind(): void
    {
        $browser = new Browser(Instance::web());
        $client = new Client('ines@saltmarsh.example');
        $name = 'Late answer ' . bin2hex(random_bytes(2));
        try {
            $browser->signIn('ines@saltmarsh.example', 'salt-and-marsh');
            $browser->go('/rules/new?limit=90000&formula=' . rawurlencode('messaging_queue_depth where queue = "boarding"'));
            $browser->waitForText('What it would have raised', 30);
            // The answers, not the requests, come late: the draft's after one second, the rule's after four.
            $browser->driver->executeScript(
                'window.kept = window.fetch; window.fetch = async (...asked) => {
                   const answer = await window.kept(...asked);
                   const path = new URL(asked[0].url ?? asked[0], location.href).pathname;
                   const method = asked[0].method ?? asked[1]?.method ?? "GET";
                   const late = method === "POST" ? {"/api/rules": 4000, "/api/rule-drafts": 1000}[path] ?? 0 : 0;
                   await new Promise((go) => setTimeout(go, late));
                   return answer;
                 };',
            );
            $browser->find('input[name=name]')->sendKeys([[WebDriverKeys::CONTROL, 'a'], $name]);
            // Just as the draft sets out.
            usleep(1_250_000);
            $browser->press('Put into service');
            $browser->waitForText('In service.', 40);
            $drafts = static fn(): array => array_filter(
                $client->send('GET', '/api/rule-drafts')[1],
                static fn(array $one): bool => $one['definition']['name'] === $name,
            );
            Instance::eventually(static fn(): bool => $drafts() === [], 20, 'no draft is left of it');
            sleep(3);
            self::assertSame([], $drafts(), 'and none comes later');
            self::assertSame([], $browser->consoleErrors());
        } finally {
            foreach ($client->send('GET', '/api/rules')[1] as $rule) {
                if ($rule['definition']['name'] === $name) {
                    $client->send('DELETE', "/api/rules/{$rule['id']}", []);
                }
            }
            $browser->close();
        }
    }

    public function testWhatIsTypedOutlivesTheSessionAndLeavingAsks(): void
    {
        $browser = new Browser(Instance::web());
        try {
            $browser->signIn('ines@saltmarsh.example', 'salt-and-marsh');
            $browser->go('/rules/new?limit=90000&formula=' . rawurlencode('messaging_queue_depth where queue = "boarding"'));
            $browser->waitForText('What it would have raised', 30);
            $name = static fn(): string => (string) $browser->find('input[name=name]')->getAttribute('value');
            $replays = static fn(): int => (int) $browser->driver->executeScript(
                "return performance.getEntriesByType('resource').filter((one) => one.name.endsWith('/api/rules/replay')).length",
            );
            $asked = $replays();
            $browser->find('input[name=name]')->sendKeys([[WebDriverKeys::CONTROL, 'a'], 'Lorries at the gate']);
            $browser->find('textarea[name=runbook]')->sendKeys('Call the pier');
            $isKept = static fn(): bool => str_contains($browser->text(), 'kept ') && !str_contains($browser->text(), 'keeping …');
            Instance::eventually($isKept, 15, 'the draft is kept');
            self::assertSame($asked, $replays(), 'a name replays nothing');

            $browser->driver->manage()->deleteAllCookies();
            $browser->press('Put into service');
            $browser->waitForText('You are signed out');
            self::assertSame([], $browser->accessibilityFindings());
            $browser->find('[role=dialog] input[name=password]')->sendKeys('salt-and-marsh');
            $browser->driver->getKeyboard()->sendKeys(WebDriverKeys::ENTER);
            Instance::eventually(static fn(): bool => !str_contains($browser->text(), 'You are signed out'), 15, 'signed in again');
            self::assertSame('Lorries at the gate', $name());

            // What is written is kept on the server; whoever leaves while it cannot be is asked.
            $browser->driver->executeScript(self::failing('/api/rule-drafts'));
            $browser->find('textarea[name=runbook]')->sendKeys(' at once');
            $browser->waitForText('not kept: The tide took it');
            $browser->press('Fleet');
            $browser->waitForText('Leave without keeping it?');
            $browser->press('Stay here');
            self::assertStringContainsString('gate', $name());
            $browser->driver->executeScript('window.fetch = window.kept');
            Instance::eventually(static fn(): bool => !str_contains($browser->text(), 'not kept'), 40, 'it is tried again by itself');
            $browser->press('Fleet');
            $browser->waitForText('last scrapes');
            $browser->press('Rules');
            $browser->press('Lorries at the gate');
            $browser->waitForText('What it would have raised', 30);
            self::assertSame(['Lorries at the gate', 'Call the pier at once'], [$name(), $browser->find('textarea[name=runbook]')->getAttribute('value')]);
            $browser->press('Throw away');
            $browser->press('Fleet');
            $browser->waitForText('last scrapes');

            $browser->press('Add …');
            $browser->press('What a program says of itself');
            $browser->find('[role=dialog] input[name=url]')->sendKeys('http://web-9:9105/metrics');
            $browser->driver->getKeyboard()->sendKeys(WebDriverKeys::ESCAPE);
            $browser->waitForText('What you changed here is not kept yet.');
            $browser->press('Go on writing');
            self::assertSame('http://web-9:9105/metrics', $browser->find('[role=dialog] input[name=url]')->getAttribute('value'));
            $browser->driver->getKeyboard()->sendKeys(WebDriverKeys::ESCAPE);
            $browser->press('Throw it away');
            self::assertSame('Fleet · Olivine', $browser->driver->getTitle());
        } finally {
            $browser->close();
        }
    }

    /** A browser that is fourteen hours ahead would name the other shift. */
    public function testEveryClockIsTheServers(): void
    {
        $browser = new Browser(Instance::web());
        try {
            $browser->onEachPage('const real = Date.now.bind(Date); Date.now = () => real() + 14 * 3_600_000;');
            $browser->signIn('viewer@saltmarsh.example', 'salt-and-marsh');
            $watch = (new Client('viewer@saltmarsh.example'))->send('GET', '/api/watch?back=6')[1];
            $now = $watch['now'];
            [$onCall] = array_values(array_filter($watch['shifts'], static fn(array $one): bool => $one['from'] <= $now && $one['to'] > $now));
            $browser->waitForText("{$onCall['person']} on call until");
            $browser->go('/wall');
            $clock = static fn(int $plus): string => (new \DateTimeImmutable('@' . (intdiv($now, 1000) + $plus)))
                ->setTimezone(new \DateTimeZone($watch['zone']))
                ->format('H:i');
            $browser->waitForText('is on call until');
            self::assertMatchesRegularExpression("~({$clock(0)}|{$clock(60)})~", $browser->text());
            $browser->go('/fleet');
            $browser->waitForText('gate-e1');
            self::assertDoesNotMatchRegularExpression('~\b1[34] h .*ago~', $browser->text());
            $browser->driver->executeScript(self::failing('/api/targets'));
            $browser->waitForText('You see the targets of', 30);
            $minutes = implode('|', array_map($clock, range(0, 300, 60)));
            self::assertMatchesRegularExpression("~You see the targets of ({$minutes}),~", $browser->text());
        } finally {
            $browser->close();
        }
    }

    /** From now on the page's questions to an address fail. */
    private static function failing(string $path): string
    {
        return <<<JS
            window.kept ??= window.fetch;
            window.fetch = (address, asked) => String(address).startsWith('{$path}')
                ? Promise.resolve(new Response(JSON.stringify({ title: 'The tide took it' }), { status: 503 }))
                : window.kept(address, asked);
            JS;
    }
}

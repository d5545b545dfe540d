<?php

declare(strict_types=1);

namespace Olivine\Tests\Browser;

use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;
use Facebook\WebDriver\WebDriverSelect;
use Olivine\Tests\App\Client;
use Olivine\Tests\App\Instance;
use Olivine\Tests\App\PlainRule;
use PHPUnit\Framework\TestCase;

/** What helps to trust a rule before it speaks, and what is seen when it does. */
final class RuleBenchTest extends TestCase
{
    use SignedIn;

    private const QUEUE = 'mean(messaging_queue_depth where queue = "boarding", 1m)';
    private Client $client;

    protected function setUp(): void
    {
        $this->client = new Client('ines@saltmarsh.example');
    }

    public function testMarksMakeAProposalThatIsTaken(): void
    {
        $browser = self::$browser;
        $rule = $this->rule(['name' => 'Queue that is loud', 'formula' => self::QUEUE, 'limit' => 120, 'clear' => 110]);
        try {
            $browser->go("/rules/{$rule['id']}");
            $browser->waitForText('What it would have raised', 30);
            $browser->waitForText('Say of each whether it was useful or noise');
            // The shortest are noise, the longest was worth it: a longer hold or a higher limit would have told them apart.
            $spells = $this->client->send('POST', '/api/rules/replay', ['definition' => $rule['definition'], 'hours' => 168])[1]['spells'];
            self::assertGreaterThan(3, count($spells), 'every day has hours that busy');
            $shown = array_slice($spells, 0, 8);
            $lengths = array_map(static fn(array $spell): int => ($spell['clearedAt'] ?? PHP_INT_MAX) - $spell['raisedAt'], $shown);
            $longest = (int) array_search(max(0, ...$lengths), $lengths, true);
            $shortest = (int) array_search(min(PHP_INT_MAX, ...$lengths), $lengths, true);
            self::assertNotSame($longest, $shortest);
            $press = static fn(int $row, string $worth) => $browser->driver->executeScript(
                "[...document.querySelectorAll('[aria-label=\"What it was worth\"]')][{$row}].querySelectorAll('button')[{$worth}].click()",
            );
            $press($longest, '0');
            Instance::eventually(fn(): bool => count($this->marks($rule['id'])) === 1, 15, 'one is marked');
            $press($shortest, '1');
            Instance::eventually(fn(): bool => count($this->marks($rule['id'])) === 2, 15, 'two are marked');
            self::assertEqualsCanonicalizing(['useful', 'noise'], array_column($this->marks($rule['id']), 'worth'));
            $browser->waitForText('Take it as a draft', 60);
            self::assertStringContainsString('2 marks', $browser->text(), 'it says how few it rests on');
            self::assertSame([], $browser->accessibilityFindings());
            $browser->press('Take it as a draft');
            $browser->waitForText('draft, differs from live');
            $browser->press('Put into service');
            $browser->press('Into service');
            $browser->waitForText('The new sentence is in service.');
            $now = $this->client->send('GET', "/api/rules/{$rule['id']}")[1]['definition'];
            $before = $rule['definition'];
            self::assertTrue(
                $now['holdSeconds'] > $before['holdSeconds'] || $now['condition']['limits'][0]['limit'] > $before['condition']['limits'][0]['limit'],
                'it is stricter than before',
            );
            $browser->go('/rules/noise');
            $browser->waitForText('Which rules earn that they speak', 60);
            self::assertSame([], $browser->accessibilityFindings());
        } finally {
            $this->client->send('DELETE', "/api/rules/{$rule['id']}", []);
        }
    }

    public function testABaselineIsChosenByTheAdvice(): void
    {
        $browser = self::$browser;
        $formula = 'sum(rate(http_server_request_duration_seconds_count where service = "tickets", 5m))';
        $browser->go('/rules/new?limit=1&formula=' . rawurlencode($formula));
        $browser->waitForText('What it would have raised', 60);
        $this->slot('stays');
        (new WebDriverSelect($browser->find('[aria-label="This part of the rule"] select')))->selectByValue('departure');
        $browser->driver->getKeyboard()->sendKeys(WebDriverKeys::ESCAPE);
        // With each half hour there is more to advise by: what was asked before the page asked may have been another advice.
        $advice = [];
        Instance::eventually(
            function () use ($browser, $formula, &$advice): bool {
                [$status, $advice] = $this->client->send('POST', '/api/rules/advice', ['formula' => $formula]);

                return $status === 200 && str_contains($browser->text(), $advice['words']);
            },
            60,
            'the page says what is advised',
        );
        self::assertTrue($advice['known'], $advice['words']);
        self::assertSame([], $browser->accessibilityFindings());
        if ($advice['from'] !== 'median') {
            $browser->press('Take it');
        }
        $browser->waitForText('It is what this rule holds it against.', 60);
        $browser->find('input[name=name]')->sendKeys([[WebDriverKeys::CONTROL, 'a'], 'Requests unlike others']);
        $browser->press('Put into service');
        $browser->waitForText('In service.');
        $kept = $this->named('Requests unlike others');
        try {
            self::assertSame(['departure', $advice['from']], [$kept['definition']['condition']['kind'], $kept['definition']['condition']['from']]);
        } finally {
            $this->client->send('DELETE', "/api/rules/{$kept['id']}", []);
        }
    }

    public function testARulePutIntoServiceIsSeenToRaiseAndToBreak(): void
    {
        $browser = self::$browser;
        $browser->go('/rules/new?limit=1&formula=' . rawurlencode('max(messaging_queue_depth where queue = "boarding", 5m) + 1'));
        $browser->waitForText('What it would have raised', 30);
        $this->slot('above 1');
        $browser->find('[aria-label="This part of the rule"] input')->sendKeys([[WebDriverKeys::CONTROL, 'a'], '0.5', WebDriverKeys::ESCAPE]);
        $browser->find('input[name=name]')->sendKeys([[WebDriverKeys::CONTROL, 'a'], 'Anything at the gate']);
        $browser->find('input[name=service]')->sendKeys('gate test');
        $browser->find('textarea[name=runbook]')->sendKeys("Look **first**.\n\n1. At the gate\n2. At the pier");
        $browser->press('Put into service');
        $browser->waitForText('In service.');
        $rule = $this->named('Anything at the gate');
        try {
            $incident = null;
            Instance::eventually(
                function () use (&$incident): bool {
                    $open = $this->client->send('GET', '/api/watch')[1]['open'];
                    $incident = array_find($open, static fn(array $one): bool => str_starts_with($one['title'], 'Anything at the gate'));

                    return $incident !== null;
                },
                300,
                'it holds for two minutes, and is raised',
            );
            $browser->go("/incidents/{$incident['id']}");
            $browser->waitForText('What to do');
            $browser->waitForText('will not clear while it reads as now', 30);
            self::assertSame('first', $browser->find('section[aria-label="Chosen incident"] strong')->getText(), 'the runbook is read as it is meant');
            self::assertSame([], $browser->accessibilityFindings());

            // On each side several queues of a broker: nobody can say which belongs to which.
            $broken = PlainRule::changed($rule, ['formula' => 'messaging_queue_depth - messaging_queue_depth on broker']);
            self::assertSame(200, $this->client->send('PUT', "/api/rules/{$rule['id']}", $broken)[0]);
            $browser->go('/rules?only=broken');
            $browser->waitForText('Both sides have several series', 60);
            $browser->waitForText('not known');
            self::assertSame([], $browser->accessibilityFindings());
            $browser->go('/');
            $browser->waitForText('rule is broken');
        } finally {
            // With alerts in an open incident it is not let go.
            if ($incident !== null) {
                self::assertSame(409, $this->client->send('DELETE', "/api/rules/{$rule['id']}", [])[0]);
                $this->client->send('POST', "/api/incidents/{$incident['id']}/resolve", []);
            }
            self::assertSame(204, $this->client->send('DELETE', "/api/rules/{$rule['id']}", [])[0]);
        }
    }

    /**
     * @param array<string, mixed> $what
     *
     * @return array<string, mixed>
     */
    private function rule(array $what): array
    {
        [$status, $rule, $text] = $this->client->send('POST', '/api/rules', PlainRule::of($what));
        self::assertSame(201, $status, $text);

        return $rule;
    }

    /** @return array<string, mixed> */
    private function named(string $name): array
    {
        $found = null;
        Instance::eventually(
            function () use ($name, &$found): bool {
                $found = array_find($this->client->send('GET', '/api/rules')[1], static fn(array $one): bool => $one['definition']['name'] === $name);

                return $found !== null;
            },
            15,
            "{$name} is there",
        );

        return $found;
    }

    /** @return list<array<string, mixed>> */
    private function marks(int $rule): array
    {
        /** @var list<array<string, mixed>> */
        return $this->client->send('GET', "/api/rules/{$rule}/marks")[1];
    }

    private function slot(string $words): void
    {
        self::$browser->driver
            ->findElement(WebDriverBy::xpath("//*[@aria-label='The rule']//button[contains(normalize-space(), '{$words}')]"))
            ->click();
    }
}

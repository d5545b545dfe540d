<?php

declare(strict_types=1);

namespace Olivine\Tests\Browser;

use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;
use Facebook\WebDriver\WebDriverSelect;
use Olivine\App\Demo\DemoPeople;
use Olivine\Tests\App\Client;
use Olivine\Tests\App\Instance;
use PHPUnit\Framework\TestCase;

/** How messages leave, as it is looked at and set up. */
final class DeliveryTest extends TestCase
{
    /** What would become of an alert on Saturday night is asked by keyboard; what cannot be asked is said beside it. */
    public function testAnAlertIsTriedAtAnyTime(): void
    {
        $browser = new Browser(Instance::web());
        try {
            $browser->signIn('viewer@saltmarsh.example', 'salt-and-marsh');
            $browser->follow('/delivery');
            $browser->waitForText('one incident per service');
            $at = $browser->find('input[placeholder^=now]');
            $at->sendKeys(['soon', WebDriverKeys::ENTER]);
            $browser->waitForText('at must be a time such as 22:00');
            $at->sendKeys([[WebDriverKeys::CONTROL, 'a'], 'sat 22:00', WebDriverKeys::ENTER]);
            $browser->waitForText('answered by boarding, in an incident of boarding-gate');
            $course = '~Raised Sat \d+ \w+, 22:00.*22:00:00\s+raised as critical.*rung 1: e-mail to \w+.*22:15:0\d\s+rung 2: voice to \w+~s';
            self::assertMatchesRegularExpression($course, $browser->text());
            self::assertSame([], $browser->accessibilityFindings());
        } finally {
            $browser->close();
        }
    }

    /** A path is written, tried on what happened, put into service with a reason, and taken back; whoever only looks changes nothing. */
    public function testAPathIsMadeTriedOnThePastAndPutIntoService(): void
    {
        $letOthers = Instance::alone('plan');
        $engineer = new Client('ines@saltmarsh.example');
        $before = $engineer->send('GET', '/api/plan')[1]['inService']['number'];
        $browser = new Browser(Instance::web());
        try {
            $browser->signIn('ines@saltmarsh.example', 'salt-and-marsh');
            $browser->follow('/delivery');
            $browser->waitForText('Who answers: which alerts');
            $browser->press('Add a path');
            $field = static fn(string $name) => $browser->find("[role=dialog] [name={$name}]");
            $field('name')->sendKeys('tides by browser');
            $field('for')->sendKeys('service = tide-tables');
            $browser->press('Keep in the draft');
            $browser->waitForText('path tides by browser: for:');
            self::assertSame([], $browser->accessibilityFindings());
            $field('for')->sendKeys([[WebDriverKeys::CONTROL, 'a'], 'service = "tide-tables"']);
            $browser->press('Keep in the draft');
            $browser->waitForText('path tides by browser added');
            $browser->waitForText('A draft that is not in service');
            self::assertSame($before, $engineer->send('GET', '/api/plan')[1]['inService']['number']);
            $browser->press('Try on the last 30 days');
            $browser->waitForText('if nobody had acted:', 60);
            $browser->find('form input.font-mono')->sendKeys([[WebDriverKeys::CONTROL, 'a'], 'service=tide-tables']);
            $browser->press('Try it');
            $browser->waitForText('answered by tides by browser');
            self::assertSame([], $browser->accessibilityFindings());
            $browser->find('input[placeholder^=Nights]')->sendKeys('The tides go by themselves');
            $browser->press('Put into service');
            $browser->waitForText('Revision ' . ($before + 1) . ' is in service.');
            $browser->waitForText('The tides go by themselves');
            $names = array_map(static fn(array $path): string => $path['definition']['name'], $engineer->send('GET', '/api/plan')[1]['inService']['paths']);
            self::assertSame(['tides by browser', 'everything else'], array_slice($names, -2));

            self::assertSame([], array_filter($browser->consoleErrors(), static fn(string $error): bool => !str_contains($error, '422')));
            $browser->close();
            $browser = new Browser(Instance::web());
            $browser->signIn('viewer@saltmarsh.example', 'salt-and-marsh');
            $browser->follow('/delivery');
            $browser->waitForText('tides by browser');
            self::assertStringNotContainsString('Add a path', $browser->text());
            self::assertStringNotContainsString('Back to this', $browser->text());
            self::assertSame([], $browser->consoleErrors());
        } finally {
            $browser->close();
            $page = $engineer->send('POST', '/api/plan/draft', ['revision' => $before])[1];
            $engineer->send('PUT', '/api/plan', ['version' => $page['draft']['version'], 'reason' => 'as it was']);
            $letOthers();
        }
    }

    /** Of an alert that lay in the past when Olivine first looked, the rule's page says why nobody heard. */
    public function testWhyNobodyHeardIsAskedOfAPastAlert(): void
    {
        $rule = (int) Instance::connect()->fetchOne("SELECT a.rule_id FROM incident_alert a JOIN incident i ON i.id = a.incident_id
            WHERE a.kind = 'alert' GROUP BY a.rule_id HAVING MIN(i.replayed) = 1 ORDER BY MAX(a.raised_at) DESC LIMIT 1");
        $browser = new Browser(Instance::web());
        try {
            $browser->signIn('viewer@saltmarsh.example', 'salt-and-marsh');
            $browser->follow("/rules/{$rule}");
            $browser->waitForText('who heard?', 60);
            $browser->press('who heard?');
            $browser->waitForText('Why nobody heard');
            $browser->waitForText('found by replaying recorded readings: nobody was told');
            self::assertSame([], $browser->accessibilityFindings());
            $browser->find('[role=dialog] a[href^="/incidents/"]');
        } finally {
            $browser->close();
        }
    }

    /** An incident is taken for two hours, the page says until when, and it is given back. */
    public function testAnIncidentIsTakenForATime(): void
    {
        $database = Instance::connect();
        $database->insert('incident', [
            'service' => 'for a time',
            'title' => 'The pump runs dry',
            'severity' => 'minor',
            'status' => 'open',
            'opened_at' => (int) (microtime(true) * 1000),
            'replayed' => 1,
        ]);
        $id = (int) $database->lastInsertId();
        $browser = new Browser(Instance::web());
        try {
            $browser->signIn('ines@saltmarsh.example', 'salt-and-marsh');
            $browser->go("/incidents/{$id}");
            $browser->waitForText('The pump runs dry');
            $browser->find('[aria-label="Acknowledge for a time"]')->sendKeys(WebDriverKeys::ENTER);
            $browser->waitForText('for 2 h, then the ladder begins anew');
            self::assertSame([], $browser->accessibilityFindings());
            $browser->driver->findElement(WebDriverBy::xpath('//*[@role="menuitem"][starts-with(normalize-space(), "for 2")]'))->click();
            $browser->waitForText('You have it. The ladder begins anew in 2 h, unless it is over.');
            $browser->waitForText('acknowledged for 2 h');
            $held = (int) $database->fetchOne('SELECT held_until FROM incident WHERE id = ?', [$id]);
            self::assertEqualsWithDelta(microtime(true) * 1000 + 7_200_000, $held, 300_000);
            $browser->press('Hand back');
            $browser->waitForText('took the acknowledgement back');
            self::assertSame([], $browser->consoleErrors());
        } finally {
            $browser->close();
            foreach (['trail', 'act_token'] as $table) {
                $database->delete($table, ['incident_id' => $id]);
            }
            $database->delete('incident', ['id' => $id]);
        }
    }

    public function testAWebhookIsAddedTestedAndSeenToFail(): void
    {
        $admin = new Client('admin@saltmarsh.example');
        $browser = new Browser(Instance::web());
        try {
            $browser->signIn('admin@saltmarsh.example', 'salt-and-marsh');
            $browser->follow('/delivery');
            $browser->waitForText('Messages go by e-mail, and by harbour-board where that fails.');
            self::assertSame([], $browser->accessibilityFindings());
            $browser->press('Channels');
            $browser->press('Add a channel');
            (new WebDriverSelect($browser->find('[role=dialog] select[name=kind]')))->selectByValue('webhook');
            $field = static fn(string $name) => $browser->find("[role=dialog] input[name={$name}]");
            $field('name')->sendKeys('pier hook');
            $field('url')->sendKeys('http://127.0.0.1:' . Instance::port(7) . '/events');
            $browser->press('Save');
            $browser->waitForText('name must be one word');
            self::assertSame([], $browser->accessibilityFindings());
            $field('name')->clear();
            $field('name')->sendKeys('pier-hook');
            $browser->press('Save');
            $browser->waitForText('shown this once');
            self::assertMatchesRegularExpression('~[0-9a-f]{48}~', $browser->text());
            $browser->pressBeside('pier-hook', 'Test');
            $browser->waitForText('It was not taken: answered with status 401: The signature is not ours');
            $browser->pressBeside('pier-hook', 'Change');
            $field('secret')->sendKeys(DemoPeople::WEBHOOK_SECRET);
            $browser->press('Save');
            $browser->waitForText('Channel pier-hook is set.');
            $browser->pressBeside('pier-hook', 'Test');
            $browser->waitForText('It was taken in');
            $browser->pressBeside('pier-hook', 'Change');
            $browser->find('[role=dialog] input[name=url]');
            $browser->press('Remove');
            $browser->waitForText('Removed channel pier-hook.');
            self::assertSame([], array_filter($browser->consoleErrors(), static fn(string $error): bool => !str_contains($error, '422')));
        } finally {
            $browser->close();
            foreach ($admin->send('GET', '/api/channels/set-up')[1] as $webhook) {
                if ($webhook['name'] === 'pier-hook') {
                    $admin->send('DELETE', "/api/channels/{$webhook['id']}", []);
                }
            }
        }
    }
}

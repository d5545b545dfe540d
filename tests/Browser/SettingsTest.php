<?php

declare(strict_types=1);

namespace Olivine\Tests\Browser;

use Facebook\WebDriver\Chrome\ChromeDevToolsDriver;
use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;
use Olivine\Tests\App\Client;
use Olivine\Tests\App\Instance;
use PHPUnit\Framework\TestCase;

/** What people set and take away with them, and what those who may only look are offered. */
final class SettingsTest extends TestCase
{
    use SignedIn;

    /** A group's interval reaches its target, the target's page says where from, and what was removed comes back. */
    public function testATargetFollowsItsGroupAndComesBackFromARemoval(): void
    {
        $browser = self::$browser;
        $client = new Client('ines@saltmarsh.example');
        $browser->go('/fleet');
        $browser->press('Groups');
        $browser->press('Add a group');
        $browser->find('[role=dialog] input[name=name]')->sendKeys('Breakwater');
        $browser->find('[role=dialog] input[name=intervalSeconds]')->sendKeys([[WebDriverKeys::CONTROL, 'a'], '20']);
        self::assertSame([], $browser->accessibilityFindings());
        $browser->press('Save');
        $browser->waitForText('Group Breakwater is there.');
        $group = array_column($client->send('GET', '/api/groups')[1], 'id', 'name')['Breakwater'];
        [, $target] = $client->send('POST', '/api/targets', [
            'name' => 'breakwater-1',
            'url' => 'http://127.0.0.1:' . Instance::port(5) . '/metrics',
            'group' => $group,
        ]);

        $browser->go("/fleet/{$target['id']}");
        $browser->waitForText('20 s · from Breakwater');
        $browser->go('/fleet');
        $browser->press('Groups');
        $browser->pressBeside('Breakwater', 'Change');
        $browser->find('[role=dialog] input[name=intervalSeconds]')->sendKeys([[WebDriverKeys::CONTROL, 'a'], '25']);
        $browser->press('Save');
        $browser->waitForText('1 target follows Breakwater.');
        $browser->pressBeside('Breakwater', 'Change');
        $browser->find('[role=dialog]');
        $browser->press('Remove');
        $browser->waitForText('1 target is in this group; move it out first');
        $browser->go("/fleet/{$target['id']}");
        $browser->waitForText('25 s · from Breakwater');
        $browser->waitForText('answers every 25 s', 40);

        $browser->press('Remove');
        $browser->waitForText('Removed breakwater-1. Its readings are kept for a day.');
        Instance::eventually(
            static fn(): bool => str_ends_with((string) parse_url($browser->driver->getCurrentURL(), PHP_URL_PATH), '/fleet'),
            5,
            'back to the fleet',
        );
        self::assertSame(404, $client->send('GET', "/api/targets/{$target['id']}/page")[0]);
        $browser->press('Undo');
        Instance::eventually(
            static fn(): bool => (new Client('viewer@saltmarsh.example'))->send('GET', "/api/targets/{$target['id']}/page")[0] === 200,
            5,
            'it is back',
        );
        $browser->go('/fleet?find=breakwater');
        $browser->waitForText('breakwater-1');
        self::assertSame(
            [],
            array_values(array_filter($browser->consoleErrors(), static fn(string $error): bool => preg_match('~ 4(04|09|22) ~', $error) !== 1)),
        );

        $client->send('DELETE', "/api/targets/{$target['id']}", []);
        self::assertSame(204, $client->send('DELETE', "/api/groups/{$group}", [])[0]);
    }

    /** The chart that is seen, as two pictures and a table, all readings behind it, and the address that shows it to somebody else. */
    public function testWhatIsSeenIsTakenAway(): void
    {
        $browser = self::$browser;
        $dir = sys_get_temp_dir() . '/olivine-taken-' . bin2hex(random_bytes(4));
        mkdir($dir);
        (new ChromeDevToolsDriver($browser->driver))->execute('Browser.setDownloadBehavior', ['behavior' => 'allow', 'downloadPath' => $dir]);
        $browser->go(
            '/metrics?span=1h&formula=' .
                rawurlencode('max(mean(messaging_queue_depth where queue in ("boarding", "manifests"), 2m)) per broker, queue'),
        );
        $browser->waitForText('manifests');
        $taken = function (string $item, string $ending) use ($browser, $dir): string {
            $browser->press('Share');
            $browser->find('[role=menu]');
            $browser->driver->findElement(WebDriverBy::xpath("//*[@role='menuitem'][normalize-space()='{$item}']"))->click();
            $file = '';
            Instance::eventually(
                static function () use ($dir, $ending, &$file): bool {
                    $file = (string) current((array) glob("{$dir}/*.{$ending}"));

                    return $file !== '' && filesize($file) > 0;
                },
                15,
                "{$item} arrives",
            );
            $content = (string) file_get_contents($file);
            unlink($file);

            return $content;
        };

        $svg = new \SimpleXMLElement($taken('Picture, SVG', 'svg'));
        self::assertGreaterThan(300, (float) $svg['width']);
        self::assertStringContainsString('broker-north', (string) $svg->asXML());
        $curves = array_filter(
            $svg->xpath('//*[local-name()="path" or local-name()="polyline"]') ?: [],
            static fn(\SimpleXMLElement $path): bool => strlen((string) ($path['d'] ?? $path['points'])) > 200,
        );
        $size = getimagesizefromstring($taken('Picture, PNG', 'png'));
        self::assertIsArray($size);
        self::assertSame('image/png', $size['mime']);
        self::assertGreaterThan(300, $size[0]);

        $table = array_map(static fn(string $line): array => str_getcsv($line), explode("\n", trim($taken('What is seen, CSV', 'csv'))));
        $columns = count($table[0]) - 1;
        self::assertCount($columns, $curves, 'a curve for each column');
        self::assertGreaterThanOrEqual(4, $columns);
        self::assertContainsOnly('int', array_keys($table));
        foreach ($table as $row) {
            self::assertCount($columns + 1, $row);
        }
        $all = explode("\n", trim($taken('All readings, CSV', 'csv')));
        self::assertGreaterThan(100, count($all));
        self::assertStringContainsString('queue', $all[0]);
        $browser->press('Share');
        $browser->find('[role=menu]');
        self::assertSame([], $browser->accessibilityFindings());
        $browser->driver->getKeyboard()->sendKeys(WebDriverKeys::ESCAPE);
        rmdir($dir);

        $other = new Browser(Instance::web());
        try {
            $other->signIn('viewer@saltmarsh.example', 'salt-and-marsh');
            $other->go($browser->driver->getCurrentURL());
            $other->waitForText('manifests');
            $formula = 'input[aria-label=Formula]';
            self::assertSame($browser->find($formula)->getAttribute('value'), $other->find($formula)->getAttribute('value'));
            self::assertStringContainsString("{$columns} series", $other->text());
        } finally {
            $other->close();
        }
    }

    /** Mail, zone and people are kept on one page; two who change the same see both. */
    public function testSetupKeepsMailZoneAndPeople(): void
    {
        $browser = new Browser(Instance::web());
        $admin = new Client('admin@saltmarsh.example');
        $person = $admin->send('POST', '/api/people', [
            'name' => 'Setup Test',
            'email' => 'setup-' . bin2hex(random_bytes(3)) . '@saltmarsh.example',
            'role' => 'viewer',
            'password' => 'a long enough password',
        ])[1];
        try {
            $browser->signIn('admin@saltmarsh.example', 'salt-and-marsh');
            $browser->go('/setup');
            $browser->press('Send a test mail');
            $browser->waitForText('The mail server took it', 20);
            self::assertSame([], $browser->accessibilityFindings());
            $hours = static fn() => $browser->find('input[name=idleHours]');
            $hours()->sendKeys([[WebDriverKeys::CONTROL, 'a'], '9']);
            self::assertSame(200, $admin->change('/api/settings', ['sessionDays' => 6])[0]);
            $browser->find('form input[name=idleHours]');
            $browser->driver
                ->findElement(WebDriverBy::xpath("//section[@aria-label='Mail, address and zone']//button[normalize-space()='Keep it so']"))
                ->click();
            $browser->waitForText('Somebody changed this while you had it open');
            self::assertSame([], $browser->accessibilityFindings());
            $browser->press('Take these');
            $browser->driver
                ->findElement(WebDriverBy::xpath("//section[@aria-label='Mail, address and zone']//button[normalize-space()='Keep it so']"))
                ->click();
            $browser->waitForText('Kept. It is in force now');
            $kept = $admin->send('GET', '/api/settings')[1];
            self::assertSame([9, 6], [$kept['idleHours'], $kept['sessionDays']], 'mine and theirs');

            $browser->find('button[aria-label="Change Setup Test"]')->click();
            $browser->find('[role=dialog] input[name=barred]')->click();
            self::assertSame([], $browser->accessibilityFindings());
            $browser->press('Save');
            $browser->waitForText('Setup Test is barred');
            $browser->waitForText('Setup Test · barred');
            $browser->find('button[aria-label="Change Setup Test"]')->click();
            $browser->find('[role=dialog]');
            $browser->press('Remove');
            $browser->press('Yes, remove Setup Test');
            $browser->waitForText('Setup Test is removed');
            self::assertSame(
                [],
                array_values(array_filter($browser->consoleErrors(), static fn(string $error): bool => !str_contains($error, '409'))),
            );
        } finally {
            $browser->close();
            $admin->change('/api/settings', ['idleHours' => 12, 'sessionDays' => 7]);
            $admin->send('DELETE', "/api/people/{$person['id']}", []);
        }
    }

    /** Whoever may only look finds every page, and on none of them a lever that would not move. */
    public function testAViewerIsOfferedNothingThatWouldBeRefused(): void
    {
        $levers = [
            'Add …',
            'Run now',
            'Groups',
            'Import',
            'Pause',
            'Remove',
            'Change',
            'Ask',
            'Write a rule',
            'Write a rule from this',
            'Put into service',
            'Acknowledge',
            'Hand back',
            'Resolve',
            'Keep it so',
            'Add a person',
            'Send a test mail',
            'change',
        ];
        $client = new Client('viewer@saltmarsh.example');
        $rule = $client->send('GET', '/api/rules')[1][0];
        $target = array_column($client->send('GET', '/api/targets')[1], 'id', 'name')['broker-north'];
        $check = array_column($client->send('GET', '/api/checks')[1]['checks'], 'id', 'name')['ticket shop answers'];
        $pages = [
            '/' => 'targets report on time',
            '/metrics?span=1h&formula=messaging_queue_depth' => 'boarding',
            '/fleet' => 'broker-north',
            "/fleet/{$target}" => 'Where it is used',
            '/fleet/checks' => 'ticket shop answers',
            "/fleet/checks/{$check}" => 'Where it is used',
            '/fleet/cost' => 'The labels that cost most',
            '/rules' => $rule['definition']['name'],
            "/rules/{$rule['id']}" => 'What it would have raised',
            '/setup' => 'readings as they came',
        ];
        $seenBy = static function (Browser $browser) use ($pages, $levers): array {
            $seen = [];
            foreach ($pages as $path => $words) {
                $browser->go($path);
                $browser->waitForText($words, 30);
                $buttons = (array) $browser->driver->executeScript(
                    "return [...document.querySelectorAll('main button, main a, [role=dialog] button')].map((one) => one.innerText.trim())",
                );
                $seen[$path] = array_values(array_intersect($levers, $buttons));
            }

            return $seen;
        };
        $viewer = new Browser(Instance::web());
        try {
            $viewer->signIn('viewer@saltmarsh.example', 'salt-and-marsh');
            self::assertSame(array_fill_keys(array_keys($pages), []), $seenBy($viewer));
            $viewer->go("/rules/{$rule['id']}");
            $viewer->find('textarea');
            self::assertSame(
                0,
                (int) $viewer->driver->executeScript(
                    "return [...document.querySelectorAll('main textarea, main input:not([type=search])')].filter((one) => " .
                    "!one.readOnly && !one.disabled).length",
                ),
                'a rule is for reading',
            );
            self::assertSame([], $viewer->consoleErrors());
        } finally {
            $viewer->close();
        }
        $seen = $seenBy(self::$browser);
        self::assertContains('Add …', $seen['/fleet'], 'these are the words that an engineer finds there');
        self::assertContains('Pause', $seen["/fleet/{$target}"]);
        self::assertContains('Write a rule from this', $seen['/metrics?span=1h&formula=messaging_queue_depth']);
    }
}

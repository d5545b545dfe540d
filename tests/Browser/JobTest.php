<?php

declare(strict_types=1);

namespace Olivine\Tests\Browser;

use Facebook\WebDriver\WebDriverBy;
use Olivine\Tests\App\Client;
use Olivine\Tests\App\Instance;
use PHPUnit\Framework\TestCase;

/** Jobs in the interface: added, told of, missed. */
final class JobTest extends TestCase
{
    use SignedIn;

    /** Added from what somebody wants to know; what it reports stands on its page, what it printed a press away. */
    public function testAJobIsAddedAndReports(): void
    {
        $browser = self::$browser;
        $name = 'stock list ' . bin2hex(random_bytes(2));
        $browser->go('/fleet/jobs');
        $browser->waitForText('nightly backup', 30);
        self::assertSame([], $browser->accessibilityFindings());
        $browser->press('Add …');
        $browser->press('Whether a job ran');
        $browser->find('input[name=name]')->sendKeys($name);
        $cron = $browser->find('input[name=cron]');
        $cron->clear();
        $cron->sendKeys('61 2 * * *');
        $browser->press('Add');
        $browser->waitForText('61 2 * * * cannot be read');
        $cron->clear();
        $cron->sendKeys('15 4 * * *');
        self::assertSame([], $browser->accessibilityFindings());
        $browser->press('Add');
        $browser->waitForText("{$name} is expected daily at 04:15 Europe/Lisbon", 30);
        $browser->waitForText('has not been due yet', 30);
        self::assertSame(1, preg_match('~https?://\S+/in/job/[\w-]+~', $browser->text(), $found), 'where it reports stands there');
        $address = $found[0] ?? '';
        file_get_contents("{$address}/began?run=1");
        $browser->waitForText('has not said that it ended', 30);
        $context = stream_context_create(['http' => ['method' => 'POST', 'content' => "no room left\n"]]);
        file_get_contents("{$address}/failed?run=1&exit=5", false, $context);
        $browser->waitForText('Its last run failed with exit code 5', 30);
        $browser->driver->findElement(WebDriverBy::xpath("//button[contains(., 'failed after')]"))->click();
        $browser->waitForText('no room left', 30);
        self::assertSame([], $browser->accessibilityFindings());
        $browser->follow('/fleet/jobs');
        $browser->waitForText("“{$name}” fails", 30);
        $browser->pressUntil($name, 'How it reports');
        $browser->press('Remove');
        $browser->waitForText("Removed {$name}");
        self::assertSame([], array_filter($browser->consoleErrors(), static fn(string $one): bool => !str_contains($one, 'status of 422')));
    }

    /** A run that does not come is told: on the line of the job, on its page, and as an incident. */
    public function testAMissedJob(): void
    {
        $browser = self::$browser;
        $ines = new Client('ines@saltmarsh.example');
        $name = 'lamp report ' . bin2hex(random_bytes(2));
        $job = ['name' => $name, 'everySeconds' => 60, 'graceSeconds' => 5, 'labels' => ['service' => $name]];
        $id = $ines->send('POST', '/api/jobs', $job)[1]['id'];
        try {
            file_get_contents($ines->send('GET', "/api/jobs/{$id}")[1]['address'] . '/ended');
            $browser->go("/fleet/jobs/{$id}");
            $browser->waitForText("{$name} is well", 30);
            $browser->waitForText('ago and has not begun', 90);
            $browser->waitForText('did not come', 30);
            self::assertSame([], $browser->accessibilityFindings());
            $open = static fn(): array => array_values(array_filter(
                $ines->send('GET', '/api/watch')[1]['open'],
                static fn(array $one): bool => $one['service'] === $name && $one['status'] !== 'resolved',
            ));
            Instance::eventually(static fn(): bool => $open() !== [], 90, 'somebody hears of it');
            $browser->go('/fleet/jobs');
            $browser->waitForText("“{$name}” is missing", 30);
            self::assertSame([], $browser->consoleErrors());
        } finally {
            $ines->send('DELETE', "/api/targets/{$id}", []);
        }
    }
}

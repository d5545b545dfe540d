<?php

declare(strict_types=1);

namespace Olivine\Tests\Browser;

use Facebook\WebDriver\Remote\RemoteWebElement;
use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;
use Facebook\WebDriver\WebDriverSelect;
use Olivine\Tests\App\Client;
use Olivine\Tests\App\Instance;
use PHPUnit\Framework\TestCase;
use Symfony\Component\HttpClient\HttpClient;
use Symfony\Component\Process\Process;

/** Who is on call, as it is looked at, drawn and answered. */
final class RosterTest extends TestCase
{
    private const PIERS = 2;

    private Browser $browser;

    protected function setUp(): void
    {
        $this->browser = new Browser(Instance::web());
    }

    protected function tearDown(): void
    {
        $this->browser->close();
    }

    /** Sunday evening of next week nobody is on call at the piers: found in Coverage, asked of Mei-Lin there, accepted on her phone, and closed. */
    public function testAGapFoundInCoverageIsClosedByACoverThatIsAccepted(): void
    {
        $this->signIn('admin');
        $this->browser->follow('/roster/coverage');
        $this->browser->waitForText('Nobody is on call by the roster piers');
        self::assertSame([], $this->browser->accessibilityFindings());
        $this->browser->press('Close the gap');
        $this->choose('Who stands in', 'Mei-Lin Aaker');
        self::assertSame([], $this->browser->accessibilityFindings());
        $this->browser->press('Ask');
        $this->browser->waitForText('Mei-Lin Aaker was asked by mail');
        self::assertStringContainsString('Nobody is on call by the roster piers', $this->browser->text(), 'what is asked closes nothing');

        $phone = new Browser(Instance::web());
        try {
            $phone->signIn('mei-lin@saltmarsh.example', 'salt-and-marsh');
            $phone->resize(390, 844);
            $phone->follow('/roster/mine');
            $phone->waitForText('1 cover asked of you');
            self::assertSame([], $phone->accessibilityFindings());
            self::assertLessThanOrEqual(390, $this->width($phone));
            $phone->press('Accept');
            $phone->waitForText('You cover for');
            $phone->follow('/roster/' . self::PIERS);
            $phone->waitForText('On call now');
            self::assertLessThanOrEqual(390, $this->width($phone), 'nothing is wider than the phone');
            self::assertStringContainsString('Cover', $phone->text());
        } finally {
            $phone->close();
        }
        $this->browser->go('/roster/coverage');
        $this->browser->waitForText('What may keep somebody from hearing');
        self::assertStringNotContainsString('Nobody is on call by the roster piers', $this->browser->text());
        self::assertSame([], $this->browser->consoleErrors());
        $admin = new Client('admin@saltmarsh.example');
        $covers = array_column($admin->send('GET', '/api/rosters/' . self::PIERS . '?days=28')[1]['covers'], null, 'person');
        self::assertSame('accepted', $covers['Mei-Lin Aaker']['state']);
        self::assertSame(204, $admin->send('DELETE', "/api/covers/{$covers['Mei-Lin Aaker']['id']}", [])[0]);
    }

    /** The next quarter is seen before anything is saved, and whoever leaves is asked. */
    public function testARotationIsTriedOnTheNextQuarter(): void
    {
        $this->signIn('ines');
        $this->browser->follow('/roster/' . self::PIERS);
        $this->browser->waitForText('what results');
        self::assertStringContainsString('times an even share', $this->browser->text(), 'the quarter was unfair');
        $this->browser->press('Change it');
        $days = $this->browser->find('fieldset input[type=number]');
        $days->sendKeys([[WebDriverKeys::CONTROL, 'a'], '2']);
        self::assertSame([], $this->browser->accessibilityFindings());
        $this->browser->press('Try it on the next quarter');
        $this->browser->waitForText('The next 13 weeks, nothing saved');
        $this->browser->waitForText('most nights for one person');
        $days->sendKeys([[WebDriverKeys::CONTROL, 'a'], '0']);
        $this->browser->press('Put it into service');
        $this->browser->waitForText('everyDays must be a whole number from 1 to 366');
        $this->browser->driver->getKeyboard()->sendKeys(WebDriverKeys::ESCAPE);
        $this->browser->waitForText('What you changed here is not kept yet.');
        $this->browser->press('Throw it away');
        self::assertSame(1, (new Client('ines@saltmarsh.example'))->send('GET', '/api/rosters/' . self::PIERS)[1]['number']);
    }

    /** Another reader of calendars sees the shifts that the page shows. */
    public function testASubscriptionIsReadByAnotherReader(): void
    {
        $this->signIn('ines');
        $this->browser->follow('/roster/mine');
        $this->browser->press('Subscribe (iCalendar)');
        $address = $this->browser->find('input[aria-label="Address to subscribe to"]')->getAttribute('value');
        self::assertStringStartsWith('http', (string) $address);
        $text = HttpClient::create()->request('GET', Instance::web() . parse_url((string) $address, PHP_URL_PATH))->getContent();
        $reader = new Process(['node', __DIR__ . '/read-calendar.mjs'], null, null, $text, 60.0);
        $reader->mustRun();
        $read = json_decode($reader->getOutput(), true, 4, JSON_THROW_ON_ERROR);
        $shown = (new Client('ines@saltmarsh.example'))->send('GET', '/api/on-call/mine')[1]['shifts'];
        self::assertNotSame([], $shown);
        $entries = array_map(static fn(array $one): string => "{$one[0]} {$one[1]} {$one[2]}", $read);
        foreach ($shown as $shift) {
            self::assertContains("{$shift['from']} {$shift['to']} Ines Duarte on call: {$shift['roster']}", $entries);
        }
    }

    /** A handover is moved two hours on by keys, and asked for; Escape lets go of it. */
    public function testAHandoverIsMovedByKeysAlone(): void
    {
        $this->signIn('ines');
        $this->browser->follow('/roster/' . self::PIERS);
        $this->browser->waitForText('what results');
        $keys = $this->browser->driver->getKeyboard();
        $isHandle = fn(): bool => (bool) $this->browser->driver->executeScript(
            "const it = document.activeElement; return it.getAttribute('role') === 'slider' && Number(it.getAttribute('aria-valuenow')) > Date.now()",
        );
        for ($i = 0; $i < 120 && !$isHandle(); ++$i) {
            $keys->sendKeys(WebDriverKeys::TAB);
        }
        self::assertTrue($isHandle(), 'a handover to come is reached by keys');
        $keys->sendKeys(WebDriverKeys::ARROW_RIGHT);
        $keys->sendKeys(WebDriverKeys::ARROW_RIGHT);
        $keys->sendKeys(WebDriverKeys::ENTER);
        $this->browser->waitForText('Ask for a cover');
        [$from, $to] = array_map(
            fn(string $label): int => (int) strtotime((string) $this->field($label)->getAttribute('value')),
            ['From', 'To'],
        );
        self::assertSame(7_200, $to - $from);
        $keys->sendKeys(WebDriverKeys::ESCAPE);
        Instance::eventually(fn(): bool => !str_contains($this->browser->text(), 'Who stands in'), 10, 'Escape closes it');
    }

    private function signIn(string $name): void
    {
        $this->browser->signIn("{$name}@saltmarsh.example", 'salt-and-marsh');
    }

    private function choose(string $label, string $option): void
    {
        (new WebDriverSelect($this->field($label)))->selectByVisibleText($option);
    }

    private function field(string $label): RemoteWebElement
    {
        $this->browser->find('[role=dialog]');
        $id = $this->browser->driver->findElement(WebDriverBy::xpath("//label[normalize-space()=\"{$label}\"]"))->getAttribute('for');

        return $this->browser->find("[id=\"{$id}\"]");
    }

    private function width(Browser $browser): int
    {
        return (int) $browser->driver->executeScript('return document.documentElement.scrollWidth');
    }
}

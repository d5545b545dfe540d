<?php

declare(strict_types=1);

namespace Olivine\Tests\Browser;

use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;
use Olivine\Tests\App\Instance;
use PHPUnit\Framework\TestCase;

/** What is done to a look at a chart, by mouse and by key; all of it stands in the address, so that going back and coming again show the same. */
final class LookTest extends TestCase
{
    use SignedIn;

    private const HOUR = 3_600_000;
    private const CPU = 'mean(system_cpu_utilization_ratio where service = "tickets", 5m)';

    public function testASpanIsChosenByKeyByDraggingAndByGoingBack(): void
    {
        $browser = self::$browser;
        $browser->go('/metrics?span=6h&formula=' . rawurlencode(self::CPU));
        $browser->waitForText('against twins');
        $browser->driver->getKeyboard()->sendKeys('[');
        $this->stands('span', '24h');
        $browser->driver->getKeyboard()->sendKeys(']');
        $this->stands('span', '6h');
        $browser->waitForText('web-1');

        $this->drag(0.25, 0.5);
        $browser->waitForText('back to 6 h');
        [$from, $to] = [(int) $this->inAddress('from'), (int) $this->inAddress('to')];
        self::assertEqualsWithDelta(1.5 * self::HOUR, $to - $from, 0.1 * self::HOUR, 'a quarter of six hours');
        self::assertEqualsWithDelta(3 * self::HOUR, 1000 * time() - $to, 0.3 * self::HOUR, 'that ends in the middle of them');
        $this->drag(0.5, 0.7);
        Instance::eventually(fn(): bool => (int) $this->inAddress('from') > $from, 10, 'it is looked into further');
        self::assertEqualsWithDelta(0.3 * self::HOUR, (int) $this->inAddress('to') - (int) $this->inAddress('from'), 0.05 * self::HOUR);
        $browser->driver->navigate()->back();
        $this->stands('from', (string) $from);
        $browser->driver->navigate()->back();
        $this->stands('from', null);
        $this->drag(0.25, 0.5);
        $browser->waitForText('back to 6 h');
        $browser->press('back to 6 h');
        $this->stands('from', null);
        $this->stands('span', '6h');
        self::assertSame([], $browser->consoleErrors());
    }

    public function testTheCursorTellsTheValueAtItsTimeInTheChosenZone(): void
    {
        $browser = self::$browser;
        $browser->go('/metrics?span=6h&ago=1d&formula=' . rawurlencode('sum(messaging_queue_depth)'));
        $browser->find('.uplot .u-over');
        $this->hover(0.5);
        $told = static fn(): string => (string) $browser->driver->executeScript(
            "return document.querySelector('[role=img] > div:last-child').innerText",
        );
        Instance::eventually(static fn(): bool => preg_match('~ · [\d,.]+k?\n~', $told()) === 1, 10, 'the value under the cursor');
        $at = static fn(): string => preg_match('~\d\d:\d\d(:\d\d)?$~', trim($told()), $time) === 1 ? $time[0] : '';
        self::assertNotSame('', $at());
        $zones = ['Asia/Tokyo' => 9 * 3_600, 'UTC' => 0];
        $times = [];
        foreach ($zones as $zone => $offset) {
            $browser->driver->executeScript("document.querySelector('select[aria-label=\"Times in\"]').scrollIntoView()");
            $browser->find('select[aria-label="Times in"]')->findElement(WebDriverBy::cssSelector("option[value='{$zone}'], optgroup option"));
            $browser->driver->executeScript(
                <<<'JS'
                const select = document.querySelector('select[aria-label="Times in"]');
                const setter = Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set;
                setter.call(select, arguments[0]);
                select.dispatchEvent(new Event('change', { bubbles: true }));
                JS
                ,
                [$zone],
            );
            $this->stands('zone', $zone);
            usleep(400_000);
            $this->hover(0.5);
            Instance::eventually(static fn(): bool => $at() !== '', 10, "a time in {$zone}");
            $times[$zone] = (int) strtotime("1970-01-01 {$at()} UTC");
        }
        $apart = ((($times['Asia/Tokyo'] - $times['UTC']) % 86_400) + 86_400) % 86_400;
        self::assertEqualsWithDelta(9 * 3_600, $apart, 180, 'nine hours between them');
        self::assertSame([], $browser->accessibilityFindings());
    }

    /** A row that has a name of one word is used by it in another, and each asks the server for what it stands for. */
    public function testARowIsUsedByItsName(): void
    {
        $browser = self::$browser;
        $looks = rawurlencode((string) json_encode([['name' => 'depth'], ['name' => 'in thousands']]));
        $browser->go(
            '/metrics?span=1h&formula=' .
                rawurlencode('sum(messaging_queue_depth)') .
                '&also=' .
                rawurlencode('["depth / 1000"]') .
                "&looks={$looks}",
        );
        $browser->waitForText('in thousands');
        $now = static fn(): array => (array) $browser->driver->executeScript(
            "return [...document.querySelectorAll('section[aria-label=Series] tbody tr')].map((row) => Number(row.cells[1].innerText.replace(/[^0-9.]/g, '')))",
        );
        Instance::eventually(static fn(): bool => count($now()) === 2 && $now()[0] > 0, 10, 'both rows have a value');
        [$depth, $thousands] = $now();
        self::assertEqualsWithDelta($depth / 1_000, $thousands, ($depth / 1_000) * 0.06);
        self::assertStringContainsString('depth / 1000', (string) $browser->find('input[aria-label="Second formula"]')->getAttribute('value'));
        $browser->press('Add a row');
        $browser->find('input[aria-label="Third formula"]')->sendKeys('dep');
        $browser->waitForText('a row of this page');
        self::assertSame([], $browser->consoleErrors());
    }

    public function testNamesColoursAndAxesAreKeptAndLinesAreHiddenOneByOne(): void
    {
        $browser = self::$browser;
        $browser->go('/metrics?span=1h&formula=' . rawurlencode(self::CPU));
        $browser->waitForText('web-1');
        $browser->press('Add a row');
        $browser->find('input[aria-label="Second formula"]')->sendKeys(['sum(messaging_queue_depth)', WebDriverKeys::ENTER]);
        $menu = "//button[.//*[contains(normalize-space(), 'name, colour and axis of the second formula')]]";
        Instance::eventually(
            static fn(): bool => count($browser->driver->findElements(WebDriverBy::xpath($menu))) === 1,
            10,
            'the second formula has a look of its own',
        );
        $browser->driver->findElement(WebDriverBy::xpath($menu))->click();
        $browser->waitForText('by its unit: right');
        $name = $browser->find('input[placeholder=depth]');
        self::assertSame([], $browser->accessibilityFindings());
        $name->sendKeys(['waiting in all', WebDriverKeys::ENTER]);
        Instance::eventually(fn(): bool => str_contains((string) $this->inAddress('looks'), 'waiting in all'), 5, 'the name stands in the address');
        $browser->find('button[aria-label=plum]')->click();
        $browser->driver->findElement(WebDriverBy::xpath("//label[normalize-space()='left']/input"))->click();
        Instance::eventually(
            fn(): bool => json_decode((string) $this->inAddress('looks'), true)[1] === ['name' => 'waiting in all', 'hue' => 3, 'axis' => 'left'],
            5,
            'so do colour and axis',
        );
        $browser->driver->getKeyboard()->sendKeys(WebDriverKeys::ESCAPE);

        $browser->driver->navigate()->refresh();
        $browser->waitForText('waiting in all');
        self::assertStringContainsString('waiting in all', $browser->driver->findElement(WebDriverBy::xpath($menu))->getText());

        $shown = static fn(): array => (array) $browser->driver->executeScript(
            "return [...document.querySelectorAll('td button[aria-pressed=true]')].map((one) => one.innerText.trim())",
        );
        Instance::eventually(static fn(): bool => count($shown()) > 2, 10, 'each line has its row');
        $all = $shown();
        $row = $browser->driver->findElement(WebDriverBy::cssSelector('td button[aria-pressed=true]'));
        $hidden = $row->getText();
        $row->click();
        Instance::eventually(static fn(): bool => count($shown()) === count($all) - 1, 5, 'one is hidden');
        self::assertNotContains($hidden, $shown());
        $row->click();
        Instance::eventually(static fn(): bool => $shown() === $all, 5, 'and there again');
        $browser->driver->executeScript(
            "document.querySelector('td button[aria-pressed=true]').dispatchEvent(new MouseEvent('click', { bubbles: true, altKey: true }))",
        );
        Instance::eventually(static fn(): bool => $shown() === [$hidden], 5, 'alone');
        $browser->choose('select[aria-label=Form]', 'stacked');
        $this->stands('form', 'stacked');
        self::assertSame([], $browser->accessibilityFindings());
        self::assertSame([], $browser->consoleErrors());
    }

    /** An address that somebody cut off or made up shows what can be shown. */
    public function testWhateverStandsInTheAddressThePageIsThere(): void
    {
        $browser = self::$browser;
        foreach (
            [
                'span=never',
                'from=9&to=3',
                'from=x&to=%22%22',
                'also=%5B1%2C2',
                'looks=%5B%7B%22hue%22%3A99%7D%5D',
                'form=cake&ago=soon&zone=Atlantis%2FDeep',
                'formula=',
                'formula=%5B%5D',
                'formula=' . str_repeat('x', 3_000),
            ] as $query
        ) {
            $browser->go("/metrics?{$query}");
            $browser->find('input[aria-label^=Formula]');
            $browser->find('input[type=search]');
            self::assertStringNotContainsString('went wrong', $browser->text(), $query);
        }
        self::assertSame(
            [],
            array_values(array_filter($browser->consoleErrors(), static fn(string $error): bool => preg_match('~ 4\d\d \(~', $error) !== 1)),
        );
    }

    /** From one share of the chart's width to another. */
    private function drag(float $from, float $to): void
    {
        $over = self::$browser->find('.uplot .u-over');
        $width = $over->getSize()->getWidth();
        // Offsets count from the middle.
        self::$browser->driver
            ->action()
            ->moveToElement($over, (int) (($from - 0.5) * $width), 0)
            ->clickAndHold()
            ->moveByOffset((int) ((($to - $from) * $width) / 2), 3)
            ->moveByOffset((int) ((($to - $from) * $width) / 2), 0)
            ->release()
            ->perform();
    }

    private function hover(float $share): void
    {
        $over = self::$browser->find('.uplot .u-over');
        self::$browser->driver
            ->action()
            ->moveToElement($over, (int) (($share - 0.5) * $over->getSize()->getWidth()) + 5, 5)
            ->moveByOffset(-5, 0)
            ->perform();
    }

    private function inAddress(string $name): ?string
    {
        parse_str((string) parse_url(self::$browser->driver->getCurrentURL(), PHP_URL_QUERY), $query);

        return is_string($query[$name] ?? null) ? $query[$name] : null;
    }

    private function stands(string $name, ?string $value): void
    {
        Instance::eventually(fn(): bool => $this->inAddress($name) === $value, 10, "{$name} is " . ($value ?? 'not there'));
    }
}

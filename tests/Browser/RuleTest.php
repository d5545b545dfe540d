<?php

declare(strict_types=1);

namespace Olivine\Tests\Browser;

use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;
use Olivine\Tests\App\Client;
use Olivine\Tests\App\Instance;
use Olivine\Tests\App\PlainRule;
use PHPUnit\Framework\TestCase;

/** A rule is a sentence, and beside it stands what it would have raised: as it is written, and as its limit is dragged. */
final class RuleTest extends TestCase
{
    use SignedIn;

    private const FORMULA = 'mean(messaging_queue_depth where queue = "boarding", 1m)';

    public function testTheReplayFollowsTheSentenceAndTheDraggedLimit(): void
    {
        $browser = self::$browser;
        $rules = static fn(): array => array_column((new Client('viewer@saltmarsh.example'))->send('GET', '/api/rules')[1], 'version', 'id');
        $inService = $rules();
        $browser->go('/rules/new?limit=140&formula=' . rawurlencode(self::FORMULA));
        $browser->waitForText('What it would have raised', 30);
        $alerts = static fn(): int => (int) $browser->driver->executeScript("return document.querySelector('[aria-label=Replay] dd').innerText");
        Instance::eventually(static fn(): bool => $alerts() > 0, 15, 'every day has hours that busy');
        $limitOf = static fn(): float => preg_match('~(?:above|below) ([\d,.]+)~', $browser->find('[aria-label="The rule"]')->getText(), $part) === 1
            ? (float) str_replace(',', '', $part[1])
            : NAN;

        $this->slot('above 140');
        $number = $browser->find('[aria-label="This part of the rule"] input');
        self::assertSame([], $browser->accessibilityFindings());
        $number->sendKeys([[WebDriverKeys::CONTROL, 'a'], '90000']);
        Instance::eventually(static fn(): bool => $limitOf() === 90_000.0 && $alerts() === 0, 15, 'nothing was ever so long');
        $browser->waitForText('Nothing in this span.');
        $number->sendKeys([[WebDriverKeys::CONTROL, 'a'], '140', WebDriverKeys::ESCAPE]);
        Instance::eventually(static fn(): bool => $limitOf() === 140.0 && $alerts() > 0, 15, 'back to where it was');

        $before = $this->secondsRaised();
        self::assertGreaterThan(0, $before);

        $rows = $this->rowOfLimit();
        $this->dragFrom($rows, 70);
        Instance::eventually(static fn(): bool => $limitOf() < 140, 10, 'further down is less');
        $lower = $limitOf();
        // Maybe less often: two spells become one.
        Instance::eventually(fn(): bool => $this->secondsRaised() >= $before, 10, 'a lower limit raises for no less time');
        $this->dragFrom($this->rowOfLimit(), -110);
        Instance::eventually(static fn(): bool => $limitOf() > $lower, 10, 'further up is more');
        self::assertStringContainsString('draft', $browser->text(), 'nothing of it is in service');
        self::assertSame($inService, $rules());
        self::assertSame([], $browser->consoleErrors());
    }

    public function testWhatSomebodyElseChangedMeanwhileIsNotOverwritten(): void
    {
        $browser = self::$browser;
        $client = new Client('ines@saltmarsh.example');
        $fields = PlainRule::of(['name' => 'Queue at low water', 'formula' => self::FORMULA, 'limit' => 800, 'clear' => 700, 'enabled' => true]);
        [, $rule] = $client->send('POST', '/api/rules', $fields);
        try {
            $browser->go("/rules/{$rule['id']}");
            $browser->waitForText('in service');
            $browser->find('textarea[name=runbook]')->sendKeys('Call the harbour master');
            $browser->waitForText('draft, differs from live');
            self::assertSame(200, $client->send('PUT', "/api/rules/{$rule['id']}", PlainRule::changed($rule, ['limit' => 900]))[0]);
            $browser->press('Put into service');
            $browser->waitForText('runbook: none → Call the harbour master');
            self::assertSame([], $browser->accessibilityFindings());
            $browser->find('[role=dialog] input')->sendKeys('Somebody must be called');
            $browser->press('Into service');
            $browser->waitForText('Somebody changed this while you had it open');
            self::assertSame('Call the harbour master', $browser->find('textarea[name=runbook]')->getAttribute('value'), 'what was typed is not lost');
            self::assertSame('', $client->send('GET', "/api/rules/{$rule['id']}")[1]['definition']['runbook']);
            $browser->waitForText('there now');
            self::assertSame([], $browser->accessibilityFindings());
            $browser->press('Take these');
            $browser->waitForText('above 900');
            self::assertSame(
                'Call the harbour master',
                $browser->find('textarea[name=runbook]')->getAttribute('value'),
                'theirs is taken in, and mine is there',
            );
            $browser->press('Put into service');
            $browser->press('Into service');
            $browser->waitForText('The new sentence is in service.');
            $kept = $client->send('GET', "/api/rules/{$rule['id']}")[1];
            self::assertSame([900, 'Call the harbour master'], [PlainRule::limitOf($kept), $kept['definition']['runbook']], 'nothing is lost of either');

            $browser->go("/rules/{$rule['id']}");
            $browser->waitForText('above 900');
            $browser->waitForText('Somebody must be called');
            $browser->press('Switch off');
            $browser->press('Put into service');
            $browser->press('Into service');
            $browser->waitForText('switched off');
            self::assertFalse($client->send('GET', "/api/rules/{$rule['id']}")[1]['enabled']);
            $browser->find('textarea[aria-label=Formula]')->sendKeys([[WebDriverKeys::CONTROL, WebDriverKeys::END], ' +']);
            $browser->waitForText('stands still until the rule is mended');
            $browser->find('[role=alert]');
            self::assertSame([], $browser->accessibilityFindings());
            $browser->press('Undo changes');
            $browser->waitForText('What it would have raised');

            $browser->press('Remove');
            $browser->waitForText('Removed “Queue at low water”.');
            $named = static fn(): array => array_values(
                array_filter($client->send('GET', '/api/rules')[1], static fn(array $one): bool => $one['definition']['name'] === 'Queue at low water'),
            );
            Instance::eventually(static fn(): bool => $named() === [], 5, 'it is gone');
            $browser->press('Undo');
            Instance::eventually(static fn(): bool => count($named()) === 1, 5, 'it is there again');
            self::assertSame([900, false], [PlainRule::limitOf($named()[0]), $named()[0]['enabled']], 'as it was');
        } finally {
            foreach ($client->send('GET', '/api/rules')[1] as $one) {
                if ($one['definition']['name'] === 'Queue at low water') {
                    $client->send('DELETE', "/api/rules/{$one['id']}", []);
                }
            }
        }
    }

    private function slot(string $words): void
    {
        self::$browser->driver
            ->findElement(WebDriverBy::xpath("//*[@aria-label='The rule']//button[contains(normalize-space(), '{$words}')]"))
            ->click();
    }

    /** How long it would have been raised in all: `2 d 3 h`, `45 min`. */
    private function secondsRaised(): int
    {
        $words = self::$browser->driver->executeScript("return document.querySelectorAll('[aria-label=Replay] dd')[2].innerText");
        preg_match_all('~(\d+)\s(d|h|min|s)\b~u', (string) $words, $parts, PREG_SET_ORDER);
        $units = ['d' => 86_400, 'h' => 3_600, 'min' => 60, 's' => 1];

        return array_sum(array_map(static fn(array $part): int => (int) $part[1] * $units[$part[2]], $parts));
    }

    /** @return int where the limit's line is drawn, by its colour, in pixels below the top of the chart */
    private function rowOfLimit(): int
    {
        $row = null;
        Instance::eventually(
            static function () use (&$row): bool {
                $before = $row;
                $row = self::$browser->driver->executeScript(
                    <<<'JS'
                    const chart = document.querySelector('[aria-label=Replay] .uplot');
                    const [canvas, over] = [chart.querySelector('canvas'), chart.querySelector('.u-over')];
                    const probe = document.createElement('canvas').getContext('2d');
                    probe.fillStyle = getComputedStyle(document.documentElement).getPropertyValue('--minor').trim();
                    const hue = [1, 3, 5].map((at) => parseInt(probe.fillStyle.slice(at, at + 2), 16));
                    const scale = canvas.width / canvas.clientWidth;
                    // A line goes all the way across, the words beside it do not.
                    const columns = [0.05, 0.5, 0.95].map((part) => {
                        const x = Math.round((over.offsetLeft + over.clientWidth * part) * scale);
                        return canvas.getContext('2d').getImageData(x, 0, 1, canvas.height).data;
                    });
                    const isHue = (pixels, y) =>
                        pixels[4 * y + 3] > 200 && hue.every((part, i) => Math.abs(pixels[4 * y + i] - part) < 40);
                    const rows = [];
                    for (let y = 0; y < canvas.height; y++) if (columns.filter((pixels) => isHue(pixels, y)).length > 1) rows.push(y);
                    // Below it may be the clear limit, drawn in a hue that is alike over a band.
                    return rows.length === 0 ? null : rows[0] / scale - over.offsetTop;
                    JS
                    ,
                );

                return $row !== null && $row === $before;
            },
            30,
            'the limit is drawn, and stays where it is',
        );

        return (int) $row;
    }

    private function dragFrom(int $row, int $down): void
    {
        $over = self::$browser->find('[aria-label=Replay] .u-over');
        self::$browser->driver->executeScript("document.querySelector('[aria-label=Replay] .uplot').scrollIntoView({ block: 'center' })");
        $middle = intdiv($over->getSize()->getHeight(), 2);
        self::$browser->driver
            ->action()
            ->moveToElement($over, 20, $row - $middle)
            ->clickAndHold()
            ->moveByOffset(0, intdiv($down, 2))
            ->moveByOffset(0, $down - intdiv($down, 2))
            ->release()
            ->perform();
    }
}

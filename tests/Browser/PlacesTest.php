<?php

declare(strict_types=1);

namespace Olivine\Tests\Browser;

use Olivine\App\Collect\Entity\Place;
use Olivine\Tests\App\Instance;
use Olivine\Tests\App\PlainRule;
use Olivine\Tests\App\StationsApart;
use PHPUnit\Framework\TestCase;

/** Places in the interface: a station joins by one line, our own outage is recognised, a rule wants two places. */
final class PlacesTest extends TestCase
{
    use SignedIn;
    use StationsApart;

    protected function setUp(): void
    {
        $this->prepareStations();
    }

    protected function tearDown(): void
    {
        $this->stopStations();
    }

    /** The line stands there once; who starts it elsewhere is there, with what it bears. */
    public function testAStationJoinsByOneLine(): void
    {
        $browser = self::$browser;
        $this->running['centre'] = $this->relay($this->port, self::centre());
        $browser->go('/fleet/places');
        $browser->waitForText('Greyhaven', 60);
        self::assertSame([], $browser->accessibilityFindings());
        $browser->press('Add a station …');
        $browser->find('[role=dialog] input[name=name]')->sendKeys($this->name);
        $names = $browser->find('[role=dialog] input[name=names]');
        $names->clear();
        $names->sendKeys($this->name);
        self::assertSame([], $browser->accessibilityFindings());
        $browser->press('Make the line');
        $browser->waitForText('Start this there; it is told this once', 30);
        self::assertSame(1, preg_match('~--token=(\S+)~', $browser->text(), $found));
        self::assertSame([], $browser->accessibilityFindings());
        $this->running['station'] = $this->station($this->name, $found[1] ?? '');
        $browser->press('Done');
        $browser->waitForText($this->name, 60);
        $browser->waitForText('heard of', 60);
        self::assertSame([], $browser->consoleErrors());
    }

    /** Cut off, a place's verdicts are held and nobody is told; where two places see it down, the rule that wants two tells. */
    public function testOurOwnOutageAndAQuorum(): void
    {
        $this->needNetworks();
        $browser = self::$browser;
        [$ferry, $clock] = [$this->served(), $this->served()];
        $check = $this->check("{$this->name} ferry", $ferry, ['places' => [Place::CENTRE], 'labels' => ['service' => $this->name]]);
        $reference = $this->check("{$this->name} clock", $clock, ['isReference' => true, 'places' => [Place::CENTRE]]);
        $this->stationsIn(['a', 'b'], $this->token("{$this->name}*", [$check, $reference], 2), [$ferry, $clock]);
        $browser->go("/fleet/checks/{$check}");
        $browser->waitForText("{$this->name} a, {$this->name} b", 60);
        $browser->press('A rule of it …');
        $browser->waitForText('limit above 1.5', 60);
        $rule = PlainRule::of([
            'name' => "{$this->name} gone, seen from two places",
            'formula' => "sum(1 - max(check_runs where target = \"{$this->name} ferry\", 20s)) per service, target",
            'limit' => 1.5,
            'holdSeconds' => 0,
            'clearHoldSeconds' => 0,
            'service' => $this->name,
            'enabled' => true,
        ]);
        [$status, $made, $text] = $this->ines->send('POST', '/api/rules', $rule);
        self::assertSame(201, $status, $text);
        // Whether somebody is told changes as time goes by.
        $open = fn(): int => count(array_filter(
            $this->ines->send('GET', '/api/watch')[1]['open'],
            fn(array $one): bool => $one['service'] === $this->name && str_contains($one['title'], 'two places'),
        ));
        try {
            $this->cut('a', $ferry);
            $this->cut('a', $clock);
            $browser->go('/fleet/places');
            $browser->waitForText("{$this->name} a is cut off since", 90);
            $browser->waitForText('reaches none of them since', 30);
            self::assertSame([], $browser->accessibilityFindings());
            $browser->go("/fleet/checks/{$check}");
            $browser->waitForText('Held, since no reference answers here', 60);
            $browser->go('/');
            $browser->waitForText("{$this->name} a is cut off since", 30);
            sleep(25);
            self::assertSame(0, $open(), 'nobody is told');

            $this->letThrough('a', $clock);
            $this->cut('b', $ferry);
            Instance::eventually(static fn(): bool => (bool) $open(), 150, 'two places see it down, so somebody is');
            $browser->waitForText('gone, seen from two places', 30);
            self::assertSame([], $browser->consoleErrors());
        } finally {
            $this->ines->send('DELETE', "/api/rules/{$made['id']}", []);
        }
    }
}

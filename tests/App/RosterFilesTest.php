<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Files\BadText;
use Olivine\App\Roster\Files\RosterTextReader;
use Opis\JsonSchema\Validator;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Sabre\VObject\Component\VCalendar;
use Sabre\VObject\Component\VEvent;
use Sabre\VObject\Reader;
use Symfony\Component\Yaml\Yaml;

/** Rosters in files, and who is on call by them, without an instance. */
final class RosterFilesTest extends TestCase
{
    use CommandsOnFiles;

    private const DOCS = __DIR__ . '/../../docs/formats';

    /** @return iterable<string, array{string, string, int, string}> as what, what is written, at which byte it is wrong, and what is said */
    public static function wrongWords(): iterable
    {
        yield 'no change' => ['change', '', 0, 'here comes daily at 08:00, weekly on mon 08:00, or every 4 days at 22:00'];
        yield 'a day that is none' => ['change', 'weekly on moon 08:00', 10, 'here comes a day: mon'];
        yield 'a week without a time' => ['change', 'weekly on mon', 13, 'here comes at which time'];
        yield 'a time that is none' => ['change', 'daily at 25:00', 9, 'here comes a time of the day'];
        yield 'every so often, of what' => ['change', 'every 4 at 22:00', 7, 'here comes days at'];
        yield 'more than a change' => ['change', 'daily at 08:00 sharp', 15, 'here comes the end'];
        yield 'hours that do not end' => ['hours', '22:00', 5, 'here comes until when'];
        yield 'hours of no day' => ['hours', 'night 22:00-06:00', 0, 'here comes a day'];
        yield 'a cover for nobody' => ['cover', 'ines@a from 2026-11-28 10:00 to 2026-11-28 12:00', 6, 'here comes for, and for whom'];
        yield 'a cover since a day' => ['cover', 'ines@a for mei@a from 2026-11-28 to 2026-11-29', 21, 'here comes a time such as 2026-11-28 10:00'];
        yield 'an absence for ever' => ['absence', 'ines@a from 2026-11-28 10:00', 28, 'here comes to, and until when'];
    }

    #[DataProvider('wrongWords')]
    public function testWordsThatMeanNothing(string $as, string $written, int $offset, string $message): void
    {
        try {
            match ($as) {
                'change' => RosterTextReader::change($written),
                'hours' => RosterTextReader::hours($written),
                'cover' => RosterTextReader::cover($written),
                default => RosterTextReader::absence($written),
            };
            self::fail('it was taken');
        } catch (BadText $fault) {
            self::assertSame($offset, $fault->offset, $fault->getMessage());
            self::assertStringContainsString($message, $fault->getMessage());
        }
    }

    /** @return iterable<string, array{string, string, int, string}> what of the example, what stands there instead, the line, and what is said */
    public static function faults(): iterable
    {
        yield 'a key that is none' => ['zone:', 'zones:', 4, 'there is no key zones here; did you mean zone?'];
        yield 'a zone that is none' => ['Europe/Lisbon', 'Europe/Lisboa', 4, 'there is no Europe/Lisboa'];
        yield 'a day that is none' => ['from: 2026-11-23, change: weekly', "from: '2026-02-30', change: weekly", 6, 'from must be a day such as 2026-11-23'];
        yield 'nobody' => ['[ines@saltmarsh.example, oyelaran@saltmarsh.example]', '[]', 6, 'people: say who takes turns'];
        yield 'no days at all' => ['every 4 days', 'every 0 days', 10, 'everyDays must be a whole number from 1 to 366'];
        yield 'a change that is none' => ['every 4 days', 'every four days', 10, 'here comes a number of days'];
        yield 'an end before the begin' => ['to 2026-12-05 08:00', 'to 2026-12-01 08:00', 15, 'to must be after from'];
        yield 'who covers for herself' => ['for ines@', 'for tomasz@', 13, 'nobody covers for themselves'];
    }

    #[DataProvider('faults')]
    public function testAFaultIsToldAtItsPlace(string $what, string $instead, int $line, string $message): void
    {
        self::assertStringContainsString($what, self::example());
        $this->write('rosters.yaml', str_replace($what, $instead, self::example()));
        [$code, $said] = self::called('olivine:oncall', ['--config' => $this->folder, '--at' => '2026-11-28T03:12:00Z']);
        self::assertSame(1, $code, $said);
        self::assertStringContainsString($message, self::lines($said)[0]['error']['message']);
        self::assertMatchesRegularExpression('~rosters\.yaml:(\d+):~', $said);
        preg_match('~rosters\.yaml:(\d+):~', $said, $at);
        self::assertSame($line, (int) ($at[1] ?? 0), $said);
    }

    public function testTheExampleOfTheFormatSaysWhoIsOnCall(): void
    {
        $this->write('rosters.yaml', self::example());
        $schema = json_decode((string) file_get_contents(self::DOCS . '/rosters.schema.json'), false, 32, JSON_THROW_ON_ERROR);
        $data = json_decode(json_encode(Yaml::parse(self::example()), JSON_THROW_ON_ERROR), false, 32, JSON_THROW_ON_ERROR);
        self::assertNull((new Validator())->validate($data, $schema)->error());

        $ask = fn(string $from, string $to): array => self::called('olivine:oncall', ['--config' => $this->folder, '--from' => $from, '--to' => $to]);
        [$code, $said] = $ask('2026-11-28T00:00:00Z', '2026-11-28T22:30:00Z');
        self::assertSame(0, $code, $said);
        self::assertSame(
            [
                '00:00 sunniva rotation nights', '06:00 ines rotation days', '10:00 tomasz rotation days, covers for ines@saltmarsh.example',
                '18:00 ines rotation days', '22:00 sunniva rotation nights',
            ],
            array_map(
                static fn(array $one): string => substr($one['from'], 11, 5) . ' ' . strtok((string) $one['person'], '@') . " {$one['because']}",
                self::lines($said),
            ),
        );
        [, $said] = self::called('olivine:oncall', ['--config' => $this->folder, '--at' => '2026-12-03T10:00:00Z']);
        self::assertSame(
            [['piers', null, '2026-12-03T06:00:00Z', '2026-12-03T22:00:00Z', 'nobody: oyelaran@saltmarsh.example is away']],
            array_map(array_values(...), array_map(
                static fn(array $one): array => [$one['roster'], $one['person'], $one['from'], $one['to'], $one['because']],
                self::lines($said),
            )),
        );
        $wrongly = [
            ['--at' => 'soon'],
            ['--from' => '2026-11-28T00:00:00Z'],
            ['--at' => '2026-11-28', '--roster' => 'pears'],
            ['--at' => '2026-11-28', '--as' => 'pdf'],
        ];
        foreach ($wrongly as $wrong) {
            self::assertSame(2, self::called('olivine:oncall', ['--config' => $this->folder] + $wrong)[0], json_encode($wrong, JSON_THROW_ON_ERROR));
        }
    }

    /** Bytes that are lost, doubled or become others: lines, or our own error. */
    public function testWhateverStandsInTheFileIsReadOrRefused(): void
    {
        mt_srand(32);
        [$read, $refused] = [0, 0];
        for ($i = 0; $i < 1_500; ++$i) {
            $text = self::example();
            for ($times = mt_rand(1, 4); $times > 0; --$times) {
                $at = mt_rand(0, strlen($text) - 1);
                $piece = ['', '0', '-', ' ', "\n", ':', '[', '99', "\xff", 'mon', '@', '24:00', substr($text, $at, 9)][mt_rand(0, 12)];
                $text = substr_replace($text, $piece, $at, mt_rand(0, 3));
            }
            $this->write('rosters.yaml', $text);
            [$code, $said] = self::called('olivine:oncall', ['--config' => $this->folder, '--at' => '2026-11-28T03:12:00Z']);
            $lines = self::lines($said);
            self::assertContains($code, [0, 1, 2], $text);
            self::assertArrayHasKey($code === 0 ? 'roster' : 'error', $lines[0], $text);
            $code === 0 ? ++$read : ++$refused;
        }
        self::assertGreaterThan(100, min($read, $refused), 'both happened');
    }

    /** Planned, applied, changed by hand, refused until somebody says which is meant; rungs of the same files may name what is new. */
    public function testAnInstanceKeepsWhatFilesSay(): void
    {
        $name = 'filed-' . bin2hex(random_bytes(3));
        $admin = new Client('admin@saltmarsh.example');
        $year = (int) date('Y') + 1;
        $text = str_replace(['  piers:', '2026-11-28', '2026-12-0'], ["  {$name}:", "{$year}-11-28", "{$year}-12-0"], self::example());
        $this->write('rosters.yaml', $text);
        $plan = fn(): array => self::called('olivine:plan', ['dir' => [$this->folder], '--no-replay' => true]);
        $apply = fn(string ...$keep): array => self::called(
            'olivine:apply',
            ['dir' => [$this->folder], '--by' => 'ines@saltmarsh.example'] + ($keep === [] ? [] : ['--keep' => $keep[0]]),
        );
        $id = static fn(): ?int => array_column($admin->send('GET', '/api/rosters')[1]['rosters'], 'id', 'name')[$name] ?? null;
        try {
            [$code, $said] = $plan();
            self::assertSame(2, $code, $said);
            self::assertStringContainsString("added    roster {$name}", $said);
            self::assertNotContains($name, array_column($admin->send('GET', '/api/rosters')[1]['rosters'], 'name'), 'planning keeps nothing');
            [$code, $said] = $apply();
            self::assertSame(0, $code, $said);
            self::assertSame([0, true], [$plan()[0], $id() !== null]);
            $shown = $admin->send('GET', "/api/rosters/{$id()}?from={$year}-11-23")[1];
            self::assertSame([true, 'set', 1], [$shown['fromFiles'], $shown['covers'][0]['state'], count($shown['away'])]);
            self::assertStringContainsString("\n  {$name}:\n", self::called('olivine:rosters:export', [])[1]);

            // What was entered by hand is exported too, and a file that says the same makes it no second time.
            $onDuty = array_find($shown['shifts'], static fn(array $one): bool => $one["to"] > 1000 * (int) gmmktime(11, 0, 0, 11, 30, $year));
            $addresses = array_column($admin->send('GET', '/api/people')[1], 'email', 'id');
            $standsIn = array_search('mei-lin@saltmarsh.example', $addresses, true);
            $byHand = [
                'person' => $standsIn,
                'for' => $onDuty['personId'],
                'from' => "{$year}-11-30 10:00",
                'to' => "{$year}-11-30 12:00",
                'set' => true,
            ];
            [$status, $cover] = $admin->send('POST', "/api/rosters/{$id()}/covers", $byHand);
            self::assertSame(201, $status, json_encode($cover, JSON_THROW_ON_ERROR));
            $exported = self::called('olivine:rosters:export', [])[1];
            $said = "mei-lin@saltmarsh.example for {$addresses[$onDuty['personId']]} from {$year}-11-30 10:00 to {$year}-11-30 12:00";
            self::assertStringContainsString($said, $exported);
            $this->write('rosters.yaml', $exported);
            self::assertSame(0, $plan()[0], $plan()[1]);
            self::assertSame(0, $apply()[0]);
            self::assertCount(2, $admin->send('GET', "/api/rosters/{$id()}?from={$year}-11-23")[1]['covers']);
            $this->write('rosters.yaml', $text);
            self::assertSame(0, $plan()[0], 'what people entered is no file\'s to take back');
            self::assertSame(204, $admin->send('DELETE', "/api/covers/{$cover['id']}", [])[0]);

            $definition = $shown['definition'];
            $definition['rotations'][0]['people'] = array_reverse($definition['rotations'][0]['people']);
            self::assertSame(200, $admin->send('PUT', "/api/rosters/{$id()}", ['definition' => $definition])[0]);
            self::assertStringContainsString('changed by hand since the last apply', $plan()[1]);
            [$code, $said] = $apply();
            self::assertSame(1, $code);
            self::assertStringContainsString('--keep hand or --keep file', $said);
            self::assertSame(0, $apply('hand')[0]);
            self::assertSame($definition['rotations'][0]['people'], $admin->send('GET', "/api/rosters/{$id()}")[1]['definition']['rotations'][0]['people']);
            self::assertSame(0, $apply('file')[0]);
            self::assertSame($shown['definition']['rotations'], $admin->send('GET', "/api/rosters/{$id()}")[1]['definition']['rotations']);

            $number = $admin->send('GET', "/api/rosters/{$id()}")[1]['number'];
            $this->write('rosters.yaml', (string) preg_replace('~ +covers:\n +- [^\n]+\n~', '', $text));
            self::assertStringContainsString('gone: tomasz@saltmarsh.example for ines@saltmarsh.example', $plan()[1]);
            self::assertSame(0, $apply()[0]);
            $after = $admin->send('GET', "/api/rosters/{$id()}?from={$year}-11-23")[1];
            self::assertSame([[], $number], [$after['covers'], $after['number']], 'covers alone are no revision');
        } finally {
            if ($id() !== null) {
                self::assertSame(204, $admin->send('DELETE', "/api/rosters/{$id()}", [])[0]);
            }
        }
        $this->write('rosters.yaml', str_replace('every 4 days', 'every 4 nights', self::example()));
        [$code, $said] = $plan();
        self::assertSame(1, $code);
        self::assertStringContainsString('here comes days at', $said);
        $this->write('rosters.yaml', str_replace('tomasz@', 'tomas@', self::example()));
        self::assertStringContainsString('did you mean tomasz@saltmarsh.example', $plan()[1]);
    }

    /** What another reader of calendars makes of it is what the lines say. */
    public function testAsACalendar(): void
    {
        $this->write('rosters.yaml', self::example());
        $span = ['--config' => $this->folder, '--from' => '2026-11-23T00:00:00Z', '--to' => '2026-12-07T00:00:00Z'];
        $lines = self::lines(self::called('olivine:oncall', $span)[1]);
        [$code, $said] = self::called('olivine:oncall', $span + ['--as' => 'ical']);
        self::assertSame(0, $code, $said);
        $calendar = Reader::read($said);
        self::assertInstanceOf(VCalendar::class, $calendar);
        self::assertSame([], $calendar->validate());
        $events = [];
        foreach ($calendar->select('VEVENT') as $event) {
            self::assertInstanceOf(VEvent::class, $event);
            $text = static fn(string $name): string => (string) ($event->select($name)[0] ?? '');
            $events[] = "{$text('DTSTART')} {$text('DTEND')} {$text('SUMMARY')}: {$text('DESCRIPTION')}";
        }
        $utc = static fn(string $time): string => str_replace(['-', ':'], '', $time);
        self::assertSame(
            array_map(
                static function (array $one) use ($utc): string {
                    $who = $one['person'] ?? 'Nobody';

                    return "{$utc($one['from'])} {$utc($one['to'])} {$who} on call: piers: {$one['because']}";
                },
                $lines,
            ),
            $events,
        );
        self::assertGreaterThan(30, count($events));
    }

    /** A ladder that names a roster reaches whoever is on call by it, and the next one. */
    public function testALadderMeansARosterByItsName(): void
    {
        $this->write('rosters.yaml', self::example() . <<<'YAML'
              desk:
                zone: UTC
                rotations:
                  desk: { people: [mirela@saltmarsh.example, anselm@saltmarsh.example], from: 2026-11-23, change: daily at 00:00 and 12:00 }
            paths:
              - everything else: { ladder: all }
            ladders:
              all:
                rungs:
                  - on call, then 5m
                  - next on roster desk, then 5m
                  - roster desk and next on call

            YAML);
        [$code, $said] = self::called('olivine:try', ['--config' => $this->folder, '--at' => '2026-11-28T03:12:00Z', '--severity' => 'critical']);
        self::assertSame(0, $code, $said);
        $told = array_filter(self::lines($said), static fn(array $one): bool => $one['what'] === 'tell');
        self::assertSame(
            ['1 sunniva@saltmarsh.example', '2 anselm@saltmarsh.example', '3 mirela@saltmarsh.example', '3 ines@saltmarsh.example'],
            array_values(array_map(static fn(array $one): string => "{$one['rung']} {$one['person']}", $told)),
        );
    }

    private static function example(): string
    {
        preg_match('~```yaml\n(.*?)```~s', (string) file_get_contents(self::DOCS . '/rosters.md'), $example);

        return $example[1] ?? '';
    }

    /** @return list<array<string, mixed>> */
    private static function lines(string $said): array
    {
        return array_map(
            static fn(string $line): array => json_decode($line, true, 8, JSON_THROW_ON_ERROR),
            array_values(array_filter(explode("\n", $said), static fn(string $line): bool => $line !== '')),
        );
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Delivery\WhenWritten;
use Olivine\App\Platform\Problem;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Who answers for what, as the page asks it, and what would become of an alert. */
final class PathsTest extends TestCase
{
    /** @return iterable<string, array{string, string}> as it is written on Friday, 27 November 2026, 14:30 in Lisbon, and the instant by UTC */
    public static function times(): iterable
    {
        yield 'now' => ['', '2026-11-27 14:30'];
        yield 'later today' => ['22:00', '2026-11-27 22:00'];
        yield 'not today any more' => ['9:15', '2026-11-28 09:15'];
        yield 'just now' => ['14:30', '2026-11-27 14:30'];
        yield 'a day of the week' => ['Sat 22:00', '2026-11-28 22:00'];
        yield 'in full' => ['thursday 03:12', '2026-12-03 03:12'];
        yield 'today by its name' => ['fri 18:00', '2026-11-27 18:00'];
        yield 'today by its name, past' => ['fri 08:00', '2026-12-04 08:00'];
        yield 'in summer' => ['2027-07-01 03:12', '2027-07-01 02:12'];
        yield 'in the past' => ['2026-10-24 23:00', '2026-10-24 22:00'];
        yield 'twice there: the first' => ['2026-10-25 01:30', '2026-10-25 00:30'];
        yield 'left out: forward' => ['2027-03-28 01:30', '2027-03-28 01:30'];
    }

    #[DataProvider('times')]
    public function testATimeAsItIsWritten(string $written, string $utc): void
    {
        $now = Instant::of(new \DateTimeImmutable('2026-11-27 14:30 UTC'));
        $at = WhenWritten::at($written, $now, new \DateTimeZone('Europe/Lisbon'));
        self::assertSame($utc, $at->in(new \DateTimeZone('UTC'))->format('Y-m-d H:i'));
    }

    public function testATimeThatIsNone(): void
    {
        foreach (['soon', '25:00', '12:60', 'mond 12:00 x', '2026-02-30 10:00', '2026-1-1 10:00', '10', "22:00\n", 'sat', '١٢:٠٠'] as $written) {
            try {
                WhenWritten::at($written, Instant::ofMs(0), new \DateTimeZone('UTC'));
                self::assertSame("22:00\n", $written, "{$written} was taken");
            } catch (Problem $problem) {
                self::assertStringContainsString('at must be a time such as 22:00', $problem->getMessage());
            }
        }
    }

    /** What is tried climbs as a real one would: by who is on call at that hour, rung by rung. */
    public function testWhatIsTriedClimbsByTheRotaOfThatHour(): void
    {
        $viewer = new Client('viewer@saltmarsh.example');
        $paths = $viewer->send('GET', '/api/plan')[1]['inService']['paths'];
        $last = $paths[count($paths) - 1];
        self::assertSame(['everything else', '', null, ['service'], 'on call'], array_map(
            static fn(string $field): mixed => $last['definition'][$field],
            ['name', 'for', 'hours', 'per', 'ladder'],
        ));
        self::assertSame([['on call'], ['next on the roster'], ['role administrator']], array_column($last['rungs'], 'who'));

        // Five minutes before the next change of shifts.
        $at = (int) gmdate('G') < 5 || (int) gmdate('G') >= 17 ? '05:55' : '17:55';
        [$status, $tried, $text] = $viewer->send('POST', '/api/plan/try', [
            'labels' => ['service' => 'tide-tables', 'broker' => 'broker-north'],
            'at' => $at,
        ]);
        self::assertSame([200, 'everything else', 'tide-tables'], [$status, $tried['path'] ?? $text, $tried['group'] ?? '']);
        [$first, $second] = array_values(array_filter($tried['steps'], static fn(array $step): bool => str_contains($step['words'], ' to ')));
        $shifts = $viewer->send('GET', '/api/watch?ahead=24')[1]['shifts'];
        $onCall = static fn(int $at): array => array_values(
            array_filter($shifts, static fn(array $one): bool => $one['from'] <= $at && $one['to'] > $at),
        )[0];
        self::assertSame("rung 1: e-mail to {$onCall($first['at'])['person']}", $first['words']);
        self::assertSame("rung 2: e-mail to {$onCall($second['at'])['next']}", $second['words']);
        $waits = [1_000 * $last['definition']['gatherSeconds'], $last['rungs'][0]['afterMs']];
        self::assertSame($waits, [$first['at'] - $tried['at'], $second['at'] - $first['at']]);
        self::assertNotSame($onCall($first['at'])['from'], $onCall($second['at'])['from'], 'the shift changes between the rungs');

        foreach (
            [
                [['labels' => ['a b' => 'c']], 'label a b must have a plain name'],
                [['labels' => [], 'severity' => 'dire'], 'severity must be one of'],
                [['labels' => [], 'at' => 'soon'], 'at must be a time such as 22:00'],
                [['label' => []], 'There is no field label here; did you mean labels?'],
            ] as [$written, $words]
        ) {
            [$status, , $text] = $viewer->send('POST', '/api/plan/try', $written);
            self::assertSame(422, $status, $text);
            self::assertStringContainsString($words, (string) json_decode($text, true)['title']);
        }
    }
}

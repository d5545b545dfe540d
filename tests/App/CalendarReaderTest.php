<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Roster\Calendar\BadCalendar;
use Olivine\App\Roster\Calendar\CalendarReader;
use Olivine\App\Roster\Calendar\CalendarSpan;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Calendars as other programs write them, and as nobody should. */
final class CalendarReaderTest extends TestCase
{
    private const MUTATIONS = 10_000;
    private const ZONE = 'Europe/Lisbon';

    /** @return iterable<string, array{list<string>, list<string>}> lines of an entry, what it says on the clocks of Lisbon */
    public static function entries(): iterable
    {
        yield 'a time in UTC' => [['DTSTART:20261201T100000Z', 'DTEND:20261201T120000Z', 'SUMMARY:training'], ['12-01 10:00 to 12-01 12:00 training']];
        yield 'a time in a zone' => [
            ['DTSTART;TZID=America/Santiago:20261201T100000', 'DTEND;TZID=America/Santiago:20261201T120000'],
            ['12-01 13:00 to 12-01 15:00'],
        ];
        yield 'a time of no zone is of the site' => [['DTSTART:20261201T100000', 'DURATION:PT90M'], ['12-01 10:00 to 12-01 11:30']];
        yield 'a whole day' => [['DTSTART;VALUE=DATE:20261225', 'SUMMARY:Christmas'], ['12-25 00:00 to 12-26 00:00 Christmas']];
        yield 'three whole days' => [['DTSTART;VALUE=DATE:20261224', 'DTEND;VALUE=DATE:20261227'], ['12-24 00:00 to 12-27 00:00']];
        yield 'each week but for one' => [
            ['DTSTART:20261202T090000Z', 'DURATION:PT1H', 'RRULE:FREQ=WEEKLY;COUNT=4', 'EXDATE:20261209T090000Z'],
            ['12-02 09:00 to 12-02 10:00', '12-16 09:00 to 12-16 10:00', '12-23 09:00 to 12-23 10:00'],
        ];
        yield 'without an end it goes on' => [
            ['DTSTART:20200101T090000Z', 'DURATION:PT1H', 'RRULE:FREQ=YEARLY;BYMONTH=12;BYMONTHDAY=31'],
            ['12-31 09:00 to 12-31 10:00'],
        ];
        yield 'began before and lasts' => [['DTSTART:20261120T090000Z', 'DTEND:20261203T090000Z'], ['11-20 09:00 to 12-03 09:00']];
        yield 'cancelled' => [['DTSTART:20261201T100000Z', 'DTEND:20261201T120000Z', 'STATUS:CANCELLED'], []];
        yield 'leaves its time free' => [['DTSTART:20261201T100000Z', 'DTEND:20261201T120000Z', 'TRANSP:TRANSPARENT'], []];
        yield 'takes no time' => [['DTSTART:20261201T100000Z', 'SUMMARY:a moment'], []];
        yield 'ends before it begins' => [['DTSTART:20261201T100000Z', 'DTEND:20261201T090000Z'], []];
        yield 'is over' => [['DTSTART:20261101T100000Z', 'DTEND:20261101T120000Z'], []];
    }

    /**
     * @param list<string> $lines
     * @param list<string> $expected
     */
    #[DataProvider('entries')]
    public function testWhatAnEntrySays(array $lines, array $expected): void
    {
        $zone = new \DateTimeZone(self::ZONE);
        $at = static fn(Instant $one): string => $one->in($zone)->format('m-d H:i');
        $words = array_map(
            static fn(CalendarSpan $one): string => rtrim("{$at($one->from)} to {$at($one->to)} {$one->words}"),
            self::read(self::calendar($lines)),
        );
        self::assertSame($expected, $words);
    }

    /** @return iterable<string, array{string}> */
    public static function broken(): iterable
    {
        yield 'nothing' => [''];
        yield 'a page' => ['<!doctype html><html><body>Sign in</body></html>'];
        yield 'a card' => ["BEGIN:VCARD\r\nVERSION:4.0\r\nFN:Ines\r\nEND:VCARD\r\n"];
        yield 'cut off' => ["BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nDTSTART:2026"];
        yield 'a day that is none' => [self::calendar(['DTSTART:2026-13-45', 'DTEND:tomorrow'])];
        yield 'each second for ever' => [self::calendar(['DTSTART:20260101T000000Z', 'DURATION:PT1S', 'RRULE:FREQ=SECONDLY'])];
        $daily = "BEGIN:VEVENT\r\nUID:x\r\nDTSTAMP:20260101T000000Z\r\nDTSTART:20000101T090000Z\r\nDURATION:PT1H\r\nRRULE:FREQ=DAILY\r\nEND:VEVENT\r\n";
        yield 'hundreds that come each day for decades' => ["BEGIN:VCALENDAR\r\nVERSION:2.0\r\n" . str_repeat($daily, 900) . "END:VCALENDAR\r\n"];
        yield 'too large' => [self::calendar(['DTSTART:20261201T100000Z', 'DESCRIPTION:' . str_repeat('x', 2_000_000)])];
    }

    #[DataProvider('broken')]
    public function testWhatCannotBeReadSaysSo(string $text): void
    {
        $this->expectException(BadCalendar::class);
        self::read($text);
    }

    /** Bytes changed, lines doubled, left out and swapped: a result or our own error, and never for long. */
    public function testNoMutatedCalendarBreaksTheReader(): void
    {
        mt_srand((int) (getenv('OLIVINE_SEED') ?: 11));
        $seeds = [];
        foreach (self::entries() as [$lines]) {
            $seeds[] = self::calendar($lines);
        }
        $read = $refused = 0;
        $slowest = 0.0;
        for ($i = 0; $i < self::MUTATIONS; ++$i) {
            $text = self::mutated($seeds[$i % count($seeds)]);
            $began = microtime(true);
            try {
                foreach (self::read($text) as $span) {
                    self::assertTrue($span->from->isBefore($span->to));
                }
                ++$read;
            } catch (BadCalendar $bad) {
                self::assertNotSame('', $bad->getMessage());
                ++$refused;
            }
            $slowest = max($slowest, microtime(true) - $began);
        }
        self::assertGreaterThan(1_000, $read);
        self::assertGreaterThan(1_000, $refused);
        self::assertLessThan(Instance::patience(5.0), $slowest, 'seconds of the slowest one');
    }

    private static function mutated(string $text): string
    {
        for ($n = mt_rand(1, 4); $n > 0; --$n) {
            $lines = explode("\r\n", $text);
            $line = array_rand($lines);
            switch (mt_rand(0, 5)) {
                case 0:
                    unset($lines[$line]);
                    break;
                case 1:
                    $lines[] = $lines[$line];
                    break;
                case 2:
                    $other = array_rand($lines);
                    [$lines[$line], $lines[$other]] = [$lines[$other], $lines[$line]];
                    break;
                default:
                    if ($lines[$line] !== '') {
                        $lines[$line][mt_rand(0, strlen($lines[$line]) - 1)] = chr(mt_rand(0, 9) === 0 ? mt_rand(0, 255) : mt_rand(32, 90));
                    }
            }
            $text = implode("\r\n", $lines);
        }

        return $text;
    }

    /** @param list<string> $lines */
    private static function calendar(array $lines): string
    {
        $all = ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//a test//EN', 'BEGIN:VEVENT', 'UID:one@test', 'DTSTAMP:20261101T000000Z', ...$lines];

        return implode("\r\n", [...$all, 'END:VEVENT', 'END:VCALENDAR', '']);
    }

    /**
     * @return list<CalendarSpan>
     *
     * @throws BadCalendar
     */
    private static function read(string $text): array
    {
        $at = static fn(string $utc): Instant => Instant::of(new \DateTimeImmutable($utc, new \DateTimeZone('UTC')));

        return CalendarReader::read($text, $at('2026-11-28 12:00'), $at('2027-01-31 00:00'), new \DateTimeZone(self::ZONE));
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What a chart is drawn of, whatever is asked for: its instants, who shares it with whom, and that it keeps up with the readings. */
final class ChartTest extends TestCase
{
    private const MINUTE = 60_000;
    private const HOUR = 60 * self::MINUTE;
    private const DEPTH = 'messaging_queue_depth where queue = "boarding"';

    /** @return iterable<string, array{int, int, int}> span, points, and the step in seconds that is the least of the round ones that suffice */
    public static function spans(): iterable
    {
        yield 'ten minutes, a point a second' => [10 * self::MINUTE, 600, 1];
        yield 'ten minutes, one point too few for that' => [10 * self::MINUTE, 599, 2];
        yield 'an hour' => [self::HOUR, 700, 10];
        yield 'six hours' => [6 * self::HOUR, 700, 60];
        yield 'a day' => [24 * self::HOUR, 700, 180];
        yield 'a day, drawn small' => [24 * self::HOUR, 100, 900];
        yield 'a week' => [7 * 24 * self::HOUR, 700, 900];
        yield 'a month in hours' => [30 * 24 * self::HOUR, 720, 3_600];
        yield 'a year' => [365 * 24 * self::HOUR, 700, 86_400];
        yield 'more points than are drawn' => [self::HOUR, 1_000_000, 2];
        yield 'fewer than are drawn' => [self::HOUR, 0, 1_800];
    }

    #[DataProvider('spans')]
    public function testItsInstantsAreRoundAndInside(int $span, int $points, int $stepSeconds): void
    {
        $client = new Client('viewer@saltmarsh.example');
        $now = (int) (microtime(true) * 1000);
        foreach ([0, 1, 7_777] as $shift) {
            [$from, $to] = [$now - $span - $shift, $now - $shift];
            [$status, $chart] = $client->send(
                'GET',
                '/api/chart?' . http_build_query(['formula' => 'sum(' . self::DEPTH . ')', 'from' => $from, 'to' => $to, 'points' => $points]),
            );
            self::assertSame([200, $stepSeconds * 1000, $from, $to], [$status, $chart['step'], $chart['from'], $chart['to']]);
            self::assertSame(0, $chart['first'] % $chart['step'], 'whole multiples of the step');
            self::assertGreaterThan($from, $chart['first']);
            self::assertLessThanOrEqual($from + $chart['step'], $chart['first']);
            foreach ($chart['lines'] as $line) {
                self::assertCount(max(1, intdiv($to - $chart['first'], $chart['step']) + 1), $line['values']);
            }
        }
    }

    /** Whoever asks for the same instants within a second gets the same curves, and the span that they asked for. */
    public function testThoseWhoLookAtTheSameShareItAndNobodyElseDoes(): void
    {
        [$one, $other] = [new Client('viewer@saltmarsh.example'), new Client('ines@saltmarsh.example')];
        $ask = static fn(Client $client, string $formula, int $from, int $to, array $more = []): array => $client->send(
            'GET',
            '/api/chart?' . http_build_query(['formula' => $formula, 'from' => $from, 'to' => $to, 'points' => 360] + $more),
        )[1];
        $formula = 'mean(' . self::DEPTH . ', 2m)';
        // In the middle of a step, so that some milliseconds later it is the same one still.
        $to = intdiv((int) (microtime(true) * 1000), self::MINUTE) * self::MINUTE - 30_000;
        $from = $to - 6 * self::HOUR;
        for ($try = 0, $shared = false; $try < 10 && !$shared; ++$try) {
            $first = $ask($one, $formula, $from, $to);
            // The same formula in other words and a span that is a little shorter.
            $second = $ask($other, 'mean(messaging_queue_depth  where queue="boarding",120s)', $from + 1_000, $to - 1_000);
            $shared = $first['tookMs'] === $second['tookMs'];
            self::assertSame([$from, $to, $from + 1_000, $to - 1_000], [$first['from'], $first['to'], $second['from'], $second['to']]);
            self::assertSame([$first['lines'], $first['formula'], $first['first']], [$second['lines'], $second['formula'], $second['first']]);
        }
        self::assertTrue($shared, 'it was worked out once');
        self::assertGreaterThan(1, count($first['lines'] ?? []));

        self::assertCount(1, $ask($one, $formula, $from, $to, ['lines' => 1])['lines'], 'who wants fewer lines has fewer');
        self::assertNotSame($first['first'] ?? null, $ask($one, $formula, $from + self::MINUTE, $to)['first'], 'a later start');
        self::assertCount(
            count($first['lines'][0]['values'] ?? []) - 2,
            $ask($one, $formula, $from, $to - 2 * self::MINUTE)['lines'][0]['values'],
            'an earlier end',
        );
        self::assertNotSame($first['lines'] ?? null, $ask($one, 'max(' . self::DEPTH . ', 2m)', $from, $to)['lines'], 'another formula');
        self::assertSame(
            422,
            $one->send('GET', '/api/chart?' . http_build_query(['formula' => "{$formula} +", 'from' => $from, 'to' => $to]))[0],
            'a fault has no share in it',
        );
    }

    /** A reading is in the charts of all who watch, a second and a scrape after it was taken. */
    public function testWhatWasSharedIsSoonOutOfDate(): void
    {
        $client = new Client('viewer@saltmarsh.example');
        $newest = static function () use ($client): int {
            $now = (int) (microtime(true) * 1000);
            $chart = $client->send(
                'GET',
                '/api/chart?' .
                    http_build_query([
                        'formula' => 'age(messaging_queue_depth where broker = "broker-north" and queue = "boarding")',
                        'from' => $now - 2 * self::MINUTE,
                        'to' => $now,
                        'points' => 60,
                    ]),
            )[1];
            $values = $chart['lines'][0]['values'] ?? [];

            // When the newest reading was taken, by its age at the last instant.
            return $values === [] || end($values) === null
                ? 0
                : (int) round(($chart['first'] + (count($values) - 1) * $chart['step'] - 1000 * end($values)) / 1000);
        };
        Instance::eventually(static fn(): bool => $newest() > time() - 20, 30, 'it is collected');
        $before = $newest();
        Instance::eventually(static fn(): bool => $newest() > $before, 25, 'the next reading is drawn');
        self::assertGreaterThan(time() - 20, $newest());
    }
}

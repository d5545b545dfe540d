<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Series\BlockCodec;
use Olivine\Core\Series\DamagedBlock;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Quantity;
use Olivine\Core\Series\Rollup;
use Olivine\Core\Series\RollupCodec;
use Olivine\Core\Series\ScrapeValues;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;

final class SeriesTest extends TestCase
{
    public function testPackingIsLosslessToTheBit(): void
    {
        mt_srand(3);
        $absent = ScrapeValues::absent();
        $kinds = [
            'counts' => static fn(int $i): float => (float) ($i * 7 + mt_rand(0, 5)),
            'huge counters' => static fn(int $i): float => 9.0e15 + $i * 2,
            'shares' => static fn(): float => mt_rand(0, 10_000) / 10_000,
            'floats' => static fn(): float => (mt_rand() / mt_getrandmax()) * 10 ** mt_rand(-20, 20),
            'with ends' => static fn(int $i): float => $i % 5 === 0 ? $absent : (float) $i,
            'specials' => static fn(): float => [NAN, INF, -INF, -0.0, 0.0, PHP_FLOAT_MIN, PHP_FLOAT_MAX, 0.1 + 0.2][mt_rand(0, 7)],
            'large with a fraction' => static fn(): float => mt_rand(100, 1_000) * 1e12 + mt_rand(0, 1_000_000_000) + mt_rand(0, 15) / 16,
            'constant' => static fn(): float => 42.5,
            'any bits' => static fn(): float => unpack('e', random_bytes(8))[1],
        ];
        foreach ($kinds as $name => $value) {
            foreach ([1, 2, 3, 240, 961] as $count) {
                $values = array_map($value, range(0, $count - 1));
                self::assertSame(
                    bin2hex(pack('e*', ...$values)),
                    bin2hex(pack('e*', ...BlockCodec::unpack(BlockCodec::pack($values)))),
                    "{$name}, {$count} values",
                );
                foreach (
                    [
                        [0, 1],
                        [1, 1],
                        [0, $count],
                        [intdiv($count, 3), intdiv($count, 2)],
                        [$count - 1, 5],
                        [$count, 1],
                        [0, 0],
                        [intdiv($count, 2), PHP_INT_MAX],
                    ] as [$skip, $most]
                ) {
                    self::assertSame(
                        bin2hex(pack('e*', ...array_slice($values, $skip, $most))),
                        bin2hex(pack('e*', ...BlockCodec::unpackPart(BlockCodec::pack($values), $skip, $most))),
                        "{$name}, {$most} of {$count} values after {$skip}",
                    );
                }
            }
        }
    }

    public function testBlocksOfTheOlderCodecAreStillRead(): void
    {
        // 10.5, 11, 11.5, 12.5 at one place: the first mantissa, then its steps as bytes.
        self::assertSame([10.5, 11.0, 11.5, 12.5], BlockCodec::unpack("\x01" . gzdeflate(pack('q', 105) . pack('c*', 5, 5, 10))));
        self::assertSame([7.0, -60_000.0], BlockCodec::unpack("\x20" . gzdeflate(pack('q', 7) . pack('l*', -60_007))));
    }

    /**
     * @return iterable<string, array{int, string, list<float>}> the first byte, what is deflated after it, and the values; what is
     *     stored must be read for years
     */
    public static function forms(): iterable
    {
        $start = static fn(int $first, int $common): string => pack('qP', $first, $common);
        yield 'steps, at one place' => [0x81, $start(105, 5) . "\x02\x03", [10.5, 11.0, 10.0]];
        yield 'changes of steps, at one place' => [0xc1, $start(105, 5) . "\x02\x00\x02", [10.5, 11.0, 11.5, 12.5]];
        yield 'changes of steps' => [0xc0, $start(10, 5) . "\x02\x00\x00\x01\x02", [10.0, 15.0, 20.0, 25.0, 25.0, 30.0]];
        yield 'two bytes a step, the low ones first; a step down is odd' => [0x90, $start(0, 1) . "\x58\x59\x02\x02", [0.0, 300.0, -1.0]];
        yield 'four bytes a step' => [0xa0, $start(0, 1) . "\xE0\xE1\x22\x22\x02\x02\x00\x00", [0.0, 70_000.0, -1.0]];
        yield 'eight bytes a step' => [
            0xb0,
            $start(-1, 1) . "\x00\x01\xBC\xBC\xA0\xA0\x65\x65\x01\x01\x00\x00\x00\x00\x00\x00",
            [-1.0, 2_999_999_999.0, -2.0],
        ];
        yield 'one value' => [0x80, $start(42, 1), [42.0]];
        yield 'no decimals at all' => [0xff, "\x00\x55\x00\x55\x00\x55\x00\x55\x00\x55\x00\x55\xF0\xD5\x7F\x3F", [INF, 1 / 3]];
    }

    /** @param list<float> $values */
    #[DataProvider('forms')]
    public function testTheFormOfABlockStaysAsItIs(int $head, string $body, array $values): void
    {
        self::assertSame($values, BlockCodec::unpack(chr($head) . gzdeflate($body)));
        $packed = BlockCodec::pack($values);
        self::assertSame([dechex($head), bin2hex($body)], [dechex(ord($packed[0])), bin2hex((string) gzinflate(substr($packed, 1)))]);
    }

    public function testTheFormOfARollUpStaysAsItIs(): void
    {
        // Two buckets of three readings each, of a counter that did not restart: growth is last less first.
        $part = static fn(float ...$values): string => pack('v', strlen(BlockCodec::pack(array_values($values)))) .
            BlockCodec::pack(array_values($values));
        $bytes = "\x09\x03\x00" . $part(6.0, 30.0) . $part(1.0, 9.0, 3.0, 11.0, 1.0, 9.0, 3.0, 11.0);
        $rollup = RollupCodec::unpack($bytes, [[10, 310], [50, 350]]);
        self::assertEquals(
            new Rollup([3, 3], [1.0, 9.0], [3.0, 11.0], [1.0, 9.0], [3.0, 11.0], [6.0, 30.0], [2.0, 2.0], [10, 310], [50, 350]),
            $rollup,
        );
        self::assertSame(bin2hex($bytes), bin2hex(RollupCodec::pack($rollup, [[10, 310], [50, 350]])));
        // Counts of their own, growth and times of their own: each a part more, and told by a bit.
        $own =
            "\x07" .
            $part(3.0, 0.0) .
            $part(6.0, 0.0) .
            $part(1.0, 0.0, 3.0, 0.0, 1.0, 0.0, 3.0, 0.0) .
            $part(5.0, 0.0) .
            $part(11.0, 0.0, 50.0, 0.0);
        self::assertSame(
            bin2hex($own),
            bin2hex(
                RollupCodec::pack(new Rollup([3, 0], [1.0, 0.0], [3.0, 0.0], [1.0, 0.0], [3.0, 0.0], [6.0, 0.0], [5.0, 0.0], [11, 0], [50, 0]), [
                    [10, 310],
                    [50, 350],
                ]),
            ),
        );
        self::assertSame(5.0, RollupCodec::unpack($own, [[10, 310], [50, 350]])->growths[0] ?? null);
    }

    public function testTimesComeBackAndSteadyOnesTakeAlmostNothing(): void
    {
        $jittered = array_map(static fn(int $i): int => 1_795_000_000_000 + $i * 15_000 + (($i * 37) % 11), range(0, 959));
        self::assertSame($jittered, BlockCodec::unpackTimes(BlockCodec::packTimes($jittered)));
        self::assertLessThan(60, strlen(BlockCodec::packTimes(range(0, 960 * 15_000, 15_000))));
        self::assertSame([5], BlockCodec::unpackTimes(BlockCodec::packTimes([5])));
    }

    /** Stretches in step, of any length and place, are counted out at once; what lies around them must not shift by one. */
    public function testTimesComeBackWhereverTheyWereInStep(): void
    {
        mt_srand(41);
        foreach ([1, 2, 15, 16, 17, 18, 19, 33, 400] as $inStep) {
            for ($round = 0; $round < 40; ++$round) {
                $times = [mt_rand(-5, 2_000_000_000_000)];
                for ($stretch = mt_rand(1, 5); $stretch > 0; --$stretch) {
                    // A step of one byte, of three, of eight: zeroes begin inside of the number that differs.
                    $step = [1, 256, 15_000, 65_536, 1 << 40, mt_rand(1, 90_000)][mt_rand(0, 5)];
                    for ($i = mt_rand(0, $inStep + 2); $i > 0; --$i) {
                        $times[] = end($times) + $step;
                    }
                    $times[] = end($times) + mt_rand(1, 100);
                }
                self::assertSame($times, BlockCodec::unpackTimes(BlockCodec::packTimes($times)), json_encode($times, JSON_THROW_ON_ERROR));
            }
        }
    }

    #[TestWith([''], 'nothing')]
    #[TestWith(["\1\2\3"], 'less than a number')]
    #[TestWith(["\1\0\0\0\0\0\0\0" . "\0\0\0\0"], 'half a number')]
    #[TestWith(["\1\0\0\0\0\0\0\0", 40], 'times that stand still')]
    #[TestWith(["\1\0\0\0\0\0\0\0" . "\xFF\xFF\xFF\xFF\xFF\xFF\xFF\xFF", 40], 'times that fall')]
    public function testDamagedTimesAreToldOf(string $bytes, int $zeroes = 0): void
    {
        $this->expectException(DamagedBlock::class);
        BlockCodec::unpackTimes((string) gzdeflate($bytes . str_repeat("\0", 8 * $zeroes)));
    }

    public function testDecimalsPackTight(): void
    {
        // Noise of 201 steps holds 7.65 bits, at whatever place it stands; as doubles such values take four times as much.
        mt_srand(3);
        foreach (range(0, 6) as $places) {
            $values = array_map(static fn(): float => round((4_000 + mt_rand(-100, 100)) / 10 ** $places, $places), range(0, 959));
            self::assertLessThan(1.35, strlen(BlockCodec::pack($values)) / 960, "bytes a reading with {$places} places");
        }
        $walk = [0.0];
        for ($i = 1; $i < 960; ++$i) {
            $walk[] = round($walk[$i - 1] + mt_rand(-7, 8) / 100, 2);
        }
        self::assertLessThan(0.7, strlen(BlockCodec::pack($walk)) / 960, 'steps of four bits');
        $counter = array_map(static fn(int $i): float => 40_000_000.0 + $i * 4_096 * 12 + ($i % 3) * 4_096, range(0, 959));
        self::assertLessThan(0.2, strlen(BlockCodec::pack($counter)) / 960, 'an even counter takes all but nothing');
    }

    public function testADamagedBlockIsSaidToBeOne(): void
    {
        $this->expectException(DamagedBlock::class);
        BlockCodec::unpack("\x00" . 'no deflate at all');
    }

    public function testMarksAreNeverTakenForReadings(): void
    {
        $column = ScrapeValues::unpack(ScrapeValues::pack([1.0, ScrapeValues::absent(), '2.5', ScrapeValues::silent(), NAN, '-1e-3']));
        [$times, $values] = ScrapeValues::readColumn([10, 20, 30, 40, 50, 60], $column);
        self::assertSame([10, 20, 30, 50, 60], $times);
        self::assertSame([1.0, null, 2.5], array_slice($values, 0, 3));
        self::assertNan($values[3]);
        self::assertSame(-0.001, $values[4]);
    }

    public function testRowsOfOneTimeAreMergedAndTheFirstReadingStays(): void
    {
        [$absent, $silent] = [ScrapeValues::absent(), ScrapeValues::silent()];
        $first = ScrapeValues::pack([1.0, $absent, $silent, $absent]);
        $second = ScrapeValues::pack([9.0, 2.0, 3.0, $silent, 5.0]);
        self::assertSame(bin2hex(ScrapeValues::pack([1.0, 2.0, 3.0, $absent, 5.0])), bin2hex(ScrapeValues::merge($first, $second)));
        self::assertSame($first, ScrapeValues::merge($first, $first));
    }

    public function testLabelsAreOneKeyWhateverTheirOrder(): void
    {
        $a = LabelSet::of(['b' => '2', 'a' => '"x"', 'gone' => '']);
        self::assertSame('a="\"x\"",b="2"', $a->key());
        self::assertTrue($a->equals(LabelSet::of(['a' => '"x"', 'b' => '2'])));
        self::assertSame('', $a->get('gone'));
    }

    /** @return iterable<array{float, string, string}> */
    public static function quantities(): iterable
    {
        yield [1284.0, '', '1,284'];
        yield [0.7134, 'ratio', '71.3 %'];
        yield [0.25, 'seconds', '250 ms'];
        yield [100_800.0, 'seconds', '28 h'];
        yield [1.5 * 1024 ** 3, 'bytes', '1.5 GiB'];
        yield [2048.0, 'bytes per second', '2 KiB/s'];
        yield [0.2, 'per second', '0.2/s'];
        yield [NAN, 'bytes', 'no number'];
        yield [INF, 'seconds', 'infinity'];
        yield [-INF, '', '-infinity'];
        yield [1023.0, 'bytes', '1,023 B'];
        yield [-1024.0, 'bytes', '-1 KiB'];
        yield [5.0 * 1024 ** 6, 'bytes', '5,120 PiB'];
        yield [0.0123, 'seconds', '12.3 ms'];
        yield [1.0, 'seconds', '1 s'];
        yield [119.5, 'seconds', '120 s'];
        yield [120.0, 'seconds', '2 min'];
        yield [-150.0, 'seconds', '-2 min 30 s'];
        yield [600.0, 'seconds', '10 min'];
        yield [630.0, 'seconds', '10 min'];
        yield [3_660.0, 'seconds', '1 h 1 min'];
        yield [172_800.0, 'seconds', '2 d'];
        yield [180_000.0, 'seconds', '2 d 2 h'];
        yield [99.96, '', '100'];
        yield [9.996, '', '10'];
        yield [12.34, 'readings', '12.3 readings'];
        yield [0.12345, '', '0.123'];
        yield [7.0, 'requests per second', '7 requests/s'];
    }

    #[DataProvider('quantities')]
    public function testValuesAreSaidInTheUnitAPersonReads(float $value, string $unit, string $words): void
    {
        self::assertSame($words, Quantity::words($value, $unit));
    }
}

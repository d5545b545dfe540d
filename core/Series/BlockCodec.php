<?php

declare(strict_types=1);

namespace Olivine\Core\Series;

/**
 * Packs the readings of one series in one block, lossless to the bit.
 *
 * Most metrics are decimals with few digits (counts, bytes, seconds to the millisecond). Such a run becomes
 * whole numbers, then differences, then the narrowest integers that hold them, then deflate:
 *
 *     12.5 12.5 13.0  →  scale 1: 125 125 130  →  125 +0 +5  →  bytes  →  deflate
 *
 * A run with anything else (NaN patterns, infinities, -0, 17 digits) keeps its eight bytes a value, one byte
 * plane after the other. The first byte names the layout, so another may stand beside these two.
 */
final class BlockCodec
{
    public const CODEC = 1;

    private const PLANES = 0xFF;
    private const MAX_SCALE = 6;
    private const WIDTHS = ['c' => 127, 's' => 32767, 'l' => 2147483647, 'q' => PHP_INT_MAX];
    private const MAX_MANTISSA = 9007199254740992.0;

    /** @param list<float> $values at least one */
    public static function pack(array $values): string
    {
        return self::packDecimal($values) ?? self::packPlanes($values);
    }

    /** @return list<float> */
    public static function unpack(string $packed): array
    {
        $head = ord($packed[0]);
        $body = self::inflate(substr($packed, 1));
        if ($head === self::PLANES) {
            return self::unpackPlanes($body);
        }
        $scale = $head & 0x0F;
        $code = array_keys(self::WIDTHS)[$head >> 4];
        /** @var array{1: int} $first */
        $first = unpack('q', $body);
        /** @var array<int, int> $steps */
        $steps = unpack($code . '*', substr($body, 8));
        $divisor = 10.0 ** $scale;
        $mantissa = $first[1];
        $values = [$mantissa / $divisor];
        foreach ($steps as $step) {
            $mantissa += $step;
            $values[] = $mantissa / $divisor;
        }

        return $values;
    }

    /**
     * Times rise by nearly the same step, so the second difference is what is kept.
     *
     * @param list<int> $times at least one
     */
    public static function packTimes(array $times): string
    {
        $previous = $times[0];
        $step = 0;
        $seconds = [];
        for ($i = 1, $n = count($times); $i < $n; ++$i) {
            $next = $times[$i] - $previous;
            $seconds[] = $next - $step;
            $step = $next;
            $previous = $times[$i];
        }

        return (string) gzdeflate(pack('q', $times[0]) . pack('q*', ...$seconds), 6);
    }

    /** @return list<int> */
    public static function unpackTimes(string $packed): array
    {
        /** @var array<int, int> $numbers */
        $numbers = unpack('q*', self::inflate($packed));
        $time = $numbers[1];
        unset($numbers[1]);
        $times = [$time];
        $step = 0;
        foreach ($numbers as $second) {
            $step += $second;
            $time += $step;
            $times[] = $time;
        }

        return $times;
    }

    /** @param list<float> $values */
    private static function packDecimal(array $values): ?string
    {
        for ($scale = 0; $scale <= self::MAX_SCALE; ++$scale) {
            $mantissas = self::mantissas($values, 10.0 ** $scale);
            if ($mantissas === null) {
                continue;
            }
            $steps = [];
            $widest = 0;
            $previous = $mantissas[0];
            foreach ($mantissas as $i => $mantissa) {
                if ($i === 0) {
                    continue;
                }
                $steps[] = $step = $mantissa - $previous;
                $widest = max($widest, abs($step));
                $previous = $mantissa;
            }
            $width = 0;
            foreach (self::WIDTHS as $code => $limit) {
                if ($widest <= $limit) {
                    return chr($width << 4 | $scale) . gzdeflate(pack('q', $mantissas[0]) . pack($code . '*', ...$steps), 6);
                }
                ++$width;
            }
        }

        return null;
    }

    /**
     * @param list<float> $values
     *
     * @return list<int>|null null where a value would not come back the same
     */
    private static function mantissas(array $values, float $factor): ?array
    {
        $mantissas = [];
        foreach ($values as $value) {
            $scaled = round($value * $factor);
            if (!(abs($scaled) < self::MAX_MANTISSA) || $scaled / $factor !== $value || ($value === 0.0 && fdiv(1.0, $value) < 0)) {
                return null;
            }
            $mantissas[] = (int) $scaled;
        }

        return $mantissas;
    }

    /** @param list<float> $values */
    private static function packPlanes(array $values): string
    {
        $rows = str_split(pack('e*', ...$values), 8);
        $planes = '';
        for ($plane = 0; $plane < 8; ++$plane) {
            foreach ($rows as $row) {
                $planes .= $row[$plane];
            }
        }

        return chr(self::PLANES) . gzdeflate($planes, 6);
    }

    /** @return list<float> */
    private static function unpackPlanes(string $planes): array
    {
        $count = intdiv(strlen($planes), 8);
        $bytes = '';
        for ($i = 0; $i < $count; ++$i) {
            for ($plane = 0; $plane < 8; ++$plane) {
                $bytes .= $planes[$plane * $count + $i];
            }
        }
        /** @var array<int, float> $values */
        $values = unpack('e*', $bytes);

        return array_values($values);
    }

    private static function inflate(string $deflated): string
    {
        $bytes = @gzinflate($deflated);
        if ($bytes === false || $bytes === '') {
            throw new DamagedBlock('A packed block could not be read back: its bytes are damaged. Run the store check and restore the block from a backup.');
        }

        return $bytes;
    }
}

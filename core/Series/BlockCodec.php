<?php

declare(strict_types=1);

namespace Olivine\Core\Series;

/**
 * Packs a run of values without losing a bit.
 *
 * Most values are decimals with few places. They are taken as whole numbers, and what is kept is how their steps
 * change: a counter that grows evenly is all but zeroes. By example, 10.5 11.0 11.5 12.5 at one place are
 * 105 110 115 125, their steps 5 5 10, all five-fold: 1 1 2; and the changes of these 1 0 1. Signs are folded in
 * (0 −1 1 −2 → 0 1 2 3), the bytes of equal weight stand together, and all of it is deflated. Steps of a noisy gauge
 * are kept as they are. Values that are no such decimals are kept as their eight bytes, again with equal weights together.
 *
 * The first byte says how: 0xFF bytes; 0x80 | order of steps << 6 | width << 4 | places; below 0x40 an older form, still read.
 */
final class BlockCodec
{
    public const CODEC = 2;

    private const PLANES = 0xff;
    private const STEPPED = 0x80;
    private const OF_STEPS = 0x40;
    private const MAX_SCALE = 6;
    private const WIDTHS = [0xff, 0xffff, 0xffffffff, PHP_INT_MAX];
    private const BYTES = [1, 2, 4, 8];
    private const OLD_FORMATS = ['c', 's', 'l', 'q'];
    /** First number and common factor. */
    private const START_BYTES = 16;
    private const MAX_MANTISSA = 9007199254740992.0;
    /** So many equal steps in a row are worth being counted out at once. */
    private const LONG_EVEN = 16;

    /** @param list<float> $values at least one */
    public static function pack(array $values): string
    {
        for ($scale = 0; $scale <= self::MAX_SCALE; ++$scale) {
            $mantissas = self::mantissas($values, 10.0 ** $scale);
            if ($mantissas !== null && $mantissas !== []) {
                return self::packSteps($mantissas, $scale);
            }
        }

        return self::packPlanes($values);
    }

    /**
     * @return list<float>
     *
     * @throws DamagedBlock where what is stored is not what was written
     */
    public static function unpack(string $packed): array
    {
        return self::unpackPart($packed, 0, PHP_INT_MAX);
    }

    /**
     * @return list<float> so many values after those that are skipped
     *
     * @throws DamagedBlock where what is stored is not what was written
     */
    public static function unpackPart(string $packed, int $skip, int $count): array
    {
        $head = ord($packed[0]);
        $body = self::inflate(substr($packed, 1));
        if (($head & self::STEPPED) !== 0 && $head !== self::PLANES) {
            return self::unpackSteps($head, $body, $skip, $count);
        }

        return self::part($head === self::PLANES ? self::unpackPlanes($body) : self::unpackOld($head, $body), $skip, $count);
    }

    /**
     * @param list<float> $values
     *
     * @return list<float>
     */
    private static function part(array $values, int $skip, int $count): array
    {
        return $skip === 0 && $count >= count($values) ? $values : array_slice($values, $skip, $count);
    }

    /** @param non-empty-list<int> $mantissas */
    private static function packSteps(array $mantissas, int $scale): string
    {
        $steps = [];
        $changes = [];
        $first = $previous = $mantissas[0];
        $step = 0;
        $common = 0;
        $sizeOfSteps = 0;
        $sizeOfChanges = 0;
        unset($mantissas[0]);
        // Calls would be half of this loop, and every reading comes through it.
        foreach ($mantissas as $mantissa) {
            $change = $mantissa - $previous - $step;
            $step = $mantissa - $previous;
            $previous = $mantissa;
            $steps[] = $step;
            $changes[] = $change;
            $size = $step < 0 ? -$step : $step;
            $sizeOfSteps += $size;
            $sizeOfChanges += $change < 0 ? -$change : $change;
            if ($common === 0) {
                $common = $size;
            } elseif ($common !== 1 && $size % $common !== 0) {
                for ($rest = $size % $common; $rest !== 0; [$common, $rest] = [$rest, $common % $rest]) {
                }
            }
        }
        $ofSteps = $sizeOfChanges < $sizeOfSteps;
        $common = max(1, $common);
        $folded = [];
        $widest = 0;
        foreach ($ofSteps ? $changes : $steps as $number) {
            if ($common !== 1) {
                $number = intdiv($number, $common);
            }
            $folded[] = $number = $number < 0 ? -2 * $number - 1 : 2 * $number;
            if ($number > $widest) {
                $widest = $number;
            }
        }
        $width = 0;
        while ($widest > self::WIDTHS[$width]) {
            ++$width;
        }
        // pack('C') takes the lowest byte of a number.
        $planes = pack('C*', ...$folded);
        for ($plane = 1; $plane < self::BYTES[$width]; ++$plane) {
            $high = [];
            foreach ($folded as $number) {
                $high[] = $number >> (8 * $plane);
            }
            $planes .= pack('C*', ...$high);
        }

        return chr(self::STEPPED | ($ofSteps ? self::OF_STEPS : 0) | ($width << 4) | $scale) .
            gzdeflate(pack('qP', $first, $common) . $planes, 6);
    }

    /** @return list<float> */
    private static function unpackSteps(int $head, string $body, int $skip, int $count): array
    {
        /** @var array{first: int, common: int} $start */
        $start = unpack('qfirst/Pcommon', $body);
        $width = self::BYTES[($head >> 4) & 0x03];
        $divisor = 10.0 ** ($head & 0x0f);
        $ofSteps = ($head & self::OF_STEPS) !== 0;
        // These loops run for every reading that is ever charted, so the usual case has one of its own.
        if ($width === 1 && $start['common'] === 1) {
            return self::unpackNarrow($body, $start['first'], $divisor, $ofSteps, $skip, $count);
        }
        $mantissa = $start['first'];
        $common = $start['common'];
        $values = [$mantissa / $divisor];
        $folded = self::numbers(substr($body, self::START_BYTES), $width);
        if ($ofSteps) {
            $step = 0;
            foreach ($folded as $number) {
                $mantissa += ($step += ($number >> 1) ^ -($number & 1)) * $common;
                $values[] = $mantissa / $divisor;
            }
        } else {
            foreach ($folded as $number) {
                $values[] = ($mantissa += (($number >> 1) ^ -($number & 1)) * $common) / $divisor;
            }
        }

        return self::part($values, $skip, $count);
    }

    /**
     * A byte a number: what it stands for is looked up. Whole numbers below 2^53 are exact as floats, so are their sums here.
     *
     * @return list<float>
     */
    private static function unpackNarrow(string $body, int $first, float $divisor, bool $ofSteps, int $skip, int $count): array
    {
        /** @var array<string, float> $unfolded */
        static $unfolded = [];
        if ($unfolded === []) {
            for ($byte = 0; $byte < 256; ++$byte) {
                $unfolded[chr($byte)] = (float) (($byte >> 1) ^ -($byte & 1));
            }
        }
        $mantissa = (float) $first;
        $step = 0.0;
        $from = self::START_BYTES + $skip;
        $end = $count < strlen($body) ? min(strlen($body), $from + $count - 1) : strlen($body);
        if ($from > strlen($body) || $count < 1) {
            return [];
        }
        if ($ofSteps) {
            for ($i = self::START_BYTES; $i < $from; ++$i) {
                $mantissa += $step += $unfolded[$body[$i]];
            }
        } else {
            // In what order steps are added does not matter, so those skipped are counted.
            foreach (count_chars(substr($body, self::START_BYTES, $skip), 1) as $byte => $times) {
                $mantissa += $times * $unfolded[chr($byte)];
            }
        }
        $values = [$mantissa / $divisor];
        if ($ofSteps) {
            for ($i = $from; $i < $end; ++$i) {
                $values[] = ($mantissa += $step += $unfolded[$body[$i]]) / $divisor;
            }
        } else {
            for ($i = $from; $i < $end; ++$i) {
                $values[] = ($mantissa += $unfolded[$body[$i]]) / $divisor;
            }
        }

        return $values;
    }

    /**
     * Blocks of codec 1.
     *
     * @return list<float>
     */
    private static function unpackOld(int $head, string $body): array
    {
        /** @var array{1: int} $first */
        $first = unpack('q', $body);
        /** @var array<int, int> $steps */
        $steps = unpack(self::OLD_FORMATS[$head >> 4] . '*', substr($body, 8));
        $divisor = 10.0 ** ($head & 0x0f);
        $mantissa = $first[1];
        $values = [$mantissa / $divisor];
        foreach ($steps as $step) {
            $values[] = ($mantissa += $step) / $divisor;
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

    /**
     * Where a target was asked in step, hours on end have no second differences: such stretches are counted out at once.
     *
     * @return non-empty-list<int>
     *
     * @throws DamagedBlock where what is stored is not what was written
     */
    public static function unpackTimes(string $packed): array
    {
        $bytes = self::inflate($packed);
        $size = strlen($bytes);
        $size % 8 === 0 || throw DamagedBlock::unreadable();
        /** @var array{1: int} $first */
        $first = unpack('q', $bytes);
        $time = $first[1];
        $parts = [];
        $step = 0;
        for ($at = 8; $at < $size; $at += 8 * $even) {
            $evenAt = strpos($bytes, str_repeat("\0", 8 * self::LONG_EVEN), $at);
            // The zeroes may begin inside of the number before.
            $evenAt = $evenAt === false ? $size : ($evenAt + 7) & ~7;
            $part = [];
            /** @var array<int, int> $seconds */
            $seconds = unpack('q*', substr($bytes, $at, $evenAt - $at));
            foreach ($seconds as $second) {
                $part[] = $time += $step += $second;
            }
            $parts[] = $part;
            $at = $evenAt;
            $even = intdiv($size - $at - strlen(ltrim(substr($bytes, $at), "\0")), 8);
            if ($even > 0) {
                $step > 0 || throw DamagedBlock::unreadable();
                $parts[] = range($time + $step, $time + $even * $step, $step);
                $time += $even * $step;
            }
        }

        return array_merge([$first[1]], ...$parts);
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
            // Above 10^15 round() may leave a half as it is; what counts is what is read back.
            if (!($scaled < self::MAX_MANTISSA && $scaled > -self::MAX_MANTISSA)) {
                return null;
            }
            $mantissa = (int) $scaled;
            if ($mantissa / $factor !== $value || ($value === 0.0 && fdiv(1.0, $value) < 0)) {
                return null;
            }
            $mantissas[] = $mantissa;
        }

        return $mantissas;
    }

    /** @param list<float> $values */
    private static function packPlanes(array $values): string
    {
        return chr(self::PLANES) . gzdeflate(self::toPlanes(pack('e*', ...$values), 8), 6);
    }

    /** @return list<float> */
    private static function unpackPlanes(string $planes): array
    {
        return ScrapeValues::unpack(self::fromPlanes($planes, 8));
    }

    /** Bytes of equal weight together: all first bytes of the numbers, then all second ones. */
    private static function toPlanes(string $bytes, int $width): string
    {
        if ($width === 1 || $bytes === '') {
            return $bytes;
        }
        $planes = array_fill(0, $width, '');
        foreach (str_split($bytes, max(1, $width)) as $number) {
            for ($plane = 0; $plane < $width; ++$plane) {
                $planes[$plane] .= $number[$plane];
            }
        }

        return implode('', $planes);
    }

    /**
     * Whole numbers out of planes; most high planes hold next to nothing, so they are laid over the lowest one.
     *
     * @return array<int, int>
     */
    private static function numbers(string $planes, int $width): array
    {
        /** @var array<string, int> $byteOf */
        static $byteOf = [];
        if ($byteOf === []) {
            for ($byte = 0; $byte < 256; ++$byte) {
                $byteOf[chr($byte)] = $byte;
            }
        }
        // Twice as fast as unpack(), which names each number first.
        $count = intdiv(strlen($planes), $width);
        $numbers = [];
        for ($i = 0; $i < $count; ++$i) {
            $numbers[] = $byteOf[$planes[$i]];
        }
        for ($plane = 1; $plane < $width; ++$plane) {
            $bytes = substr($planes, $plane * $count, $count);
            $shift = 8 * $plane;
            for ($i = strspn($bytes, "\0"); $i < $count; $i += 1 + strspn($bytes, "\0", $i + 1)) {
                $numbers[$i] |= $byteOf[$bytes[$i]] << $shift;
            }
        }

        return $numbers;
    }

    private static function fromPlanes(string $planes, int $width): string
    {
        if ($width === 1 || $planes === '') {
            return $planes;
        }
        $count = intdiv(strlen($planes), $width);
        $bytes = str_repeat("\0", $count * $width);
        for ($plane = 0, $from = 0; $plane < $width; ++$plane) {
            for ($at = $plane, $end = $from + $count; $from < $end; ++$from, $at += $width) {
                $bytes[$at] = $planes[$from];
            }
        }

        return $bytes;
    }

    /** @throws DamagedBlock */
    private static function inflate(string $deflated): string
    {
        $bytes = @gzinflate($deflated);
        if ($bytes === false || $bytes === '') {
            throw DamagedBlock::unreadable();
        }

        return $bytes;
    }
}

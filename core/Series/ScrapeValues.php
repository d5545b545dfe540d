<?php

declare(strict_types=1);

namespace Olivine\Core\Series;

/**
 * The values of one page in one scrape, as bytes. A series of the page that the scrape did not bring holds a
 * NaN of its own, which no exposition text can produce: parsed NaN is always the quiet one of the processor.
 */
final class ScrapeValues
{
    /** Little-endian bytes of the reserved NaN. */
    public const ABSENT = "\x01\x4F\x4C\x56\x00\x00\xFC\x7F";

    /** @param list<float> $values */
    public static function pack(array $values): string
    {
        return (string) gzdeflate(pack('e*', ...$values), 1);
    }

    /** @param list<float|null> $values null where the scrape did not bring the series */
    public static function packWithGaps(array $values): string
    {
        $bytes = '';
        foreach ($values as $value) {
            $bytes .= $value === null ? self::ABSENT : pack('e', $value);
        }

        return (string) gzdeflate($bytes, 1);
    }

    /** @return string eight bytes a slot */
    public static function inflate(string $packed): string
    {
        $bytes = @gzinflate($packed);
        if ($bytes === false) {
            throw new DamagedBlock('A scrape row could not be read back: its bytes are damaged.');
        }

        return $bytes;
    }

    /** The absent mark as a float; PHP keeps its bits through pack('e') and unpack('e'). */
    public static function absent(): float
    {
        /** @var array{1: float} $value */
        $value = unpack('e', self::ABSENT);

        return $value[1];
    }

    /**
     * @param list<float> $values
     *
     * @return list<float|null>
     */
    public static function marksToNull(array $values): array
    {
        foreach ($values as $i => $value) {
            if (is_nan($value) && pack('e', $value) === self::ABSENT) {
                $values[$i] = null;
            }
        }

        return $values;
    }
}

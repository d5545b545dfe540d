<?php

declare(strict_types=1);

namespace Olivine\Core\Exposition;

/**
 * The shape of a text that was read whole once: every line up to its last space.
 *
 * From scrape to scrape only the values change. A text whose lines agree with a layout in all but the value
 * is as well-formed as the one the layout came from (same families, order, labels, no series twice), so only
 * its values need reading:
 *
 *     system_cpu_time_seconds_total{state="user"} 1041.2        shape: system_cpu_time_seconds_total{state="user"}
 *     # TYPE system_memory_usage_bytes gauge                    shape: # TYPE system_memory_usage_bytes   (value "gauge" must agree too)
 *
 * Lines with a timestamp or an exemplar have a changing middle; such a text fits no layout and is read whole each time.
 */
final readonly class Layout
{
    private const LINES = '~^(.*) (.*)$~m';

    /**
     * @param list<string>       $shapes
     * @param array<int, string> $fixed  line index → last word of a line that is no sample
     * @param list<int>          $taken  line index of each sample, in the order of the text
     */
    private function __construct(
        private array $shapes,
        private array $fixed,
        private array $taken,
    ) {
    }

    /** @return self|null null where the text cannot have a steady shape */
    public static function of(string $text, Exposition $read): ?self
    {
        if (preg_match_all(self::LINES, $text, $part) === false || strpbrk($text, "\t\r\v\f") !== false) {
            return null;
        }
        if (count($part[0]) !== substr_count($text, "\n") + (str_ends_with($text, "\n") ? 0 : 1)) {
            return null;
        }
        $fixed = [];
        $taken = [];
        foreach ($part[1] as $i => $shape) {
            if ($shape[0] === '#') {
                $fixed[$i] = $part[2][$i];
                continue;
            }
            $sample = $read->samples[count($taken)] ?? null;
            if ($sample === null || $sample->atMs !== null || str_contains($shape, '} # ') || TextReader::number($part[2][$i]) === null) {
                return null;
            }
            $taken[] = $i;
        }

        return count($taken) === count($read->samples) ? new self($part[1], $fixed, $taken) : null;
    }

    /**
     * @return list<float>|null values in the order of the samples; null where the text has another shape or a word that is no number
     */
    public function values(string $text): ?array
    {
        if (preg_match_all(self::LINES, $text, $part) !== count($this->shapes) || $part[1] !== $this->shapes || strpbrk($text, "\t\r\v\f") !== false) {
            return null;
        }
        $words = $part[2];
        foreach ($this->fixed as $i => $word) {
            if ($words[$i] !== $word) {
                return null;
            }
            unset($words[$i]);
        }
        $values = [];
        foreach ($words as $word) {
            if (is_numeric($word)) {
                $values[] = (float) $word;
            } else {
                $value = TextReader::number($word);
                if ($value === null) {
                    return null;
                }
                $values[] = $value;
            }
        }

        return count($values) === count($this->taken) ? $values : null;
    }
}

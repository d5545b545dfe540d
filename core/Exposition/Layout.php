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
    private const LAST_WORD = '~ [^ \n]+$~m';
    private const LAST_WORD_ALONE = '~ \K[^ \n]+$~m';

    /**
     * @param string             $shape   the text without the last word of each line
     * @param array<int, string> $fixed   line index → last word of a line that is no sample
     * @param int                $samples how many lines are samples
     */
    private function __construct(
        private string $shape,
        private array $fixed,
        private int $samples,
    ) {
    }

    /** @return self|null null where the text cannot have a steady shape */
    public static function of(string $text, Exposition $read): ?self
    {
        $lines = explode("\n", str_ends_with($text, "\n") ? substr($text, 0, -1) : $text);
        if (preg_match_all(self::LAST_WORD_ALONE, $text, $words) !== count($lines) || self::hasOddBlanks($text)) {
            return null;
        }
        $fixed = [];
        $samples = 0;
        foreach ($lines as $i => $line) {
            $word = $words[0][$i];
            if ($line[0] === '#') {
                $fixed[$i] = $word;
                continue;
            }
            $sample = $read->samples[$samples++] ?? null;
            if ($sample === null || $sample->atMs !== null || str_contains($line, ' # {') || TextReader::number($word) === null) {
                return null;
            }
        }

        return $samples === count($read->samples) ? new self((string) preg_replace(self::LAST_WORD, '', $text), $fixed, $samples) : null;
    }

    /**
     * @return list<float>|null values in the order of the samples; null where the text has another shape or a word that is no number
     */
    public function values(string $text): ?array
    {
        if (preg_replace(self::LAST_WORD, '', $text) !== $this->shape || self::hasOddBlanks($text)) {
            return null;
        }
        preg_match_all(self::LAST_WORD_ALONE, $text, $found);
        $words = $found[0];
        foreach ($this->fixed as $i => $word) {
            if (($words[$i] ?? null) !== $word) {
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

        return count($values) === $this->samples ? $values : null;
    }

    /** Blanks other than spaces could hide inside a number. */
    private static function hasOddBlanks(string $text): bool
    {
        return strpbrk($text, "\t\r\v\f") !== false;
    }
}

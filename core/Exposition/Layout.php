<?php

declare(strict_types=1);

namespace Olivine\Core\Exposition;

use function is_numeric;
use function str_contains;
use function strlen;
use function strpos;
use function substr;
use function substr_count;
use function vsprintf;

/**
 * The shape of a text that was read whole once: all of it but the values.
 *
 * From scrape to scrape only the values change. A text is cut where the layout expects its values; when the
 * layout with these words put back is the very same text, it is as well-formed as the one the layout came
 * from (same families, order, labels, no series twice), so only its values need reading:
 *
 *     # TYPE system_memory_usage_bytes gauge
 *     system_memory_usage_bytes{state="free"} %s        cut 74 bytes in, up to the end of the line
 *
 * Lines with a timestamp or an exemplar have a changing middle; such a text fits no layout and is read whole each time.
 */
final readonly class Layout
{
    /**
     * @param string    $format the text with %s for each value
     * @param list<int> $gaps   how many bytes lie before each value, since the end of the line of the one before
     * @param int       $blanks how many spaces the text has; one more would stand in a value
     * @param list<int> $states places of values that must be 0 or 1
     * @param list<int> $rising places of values that should be no less than the one before
     */
    private function __construct(
        private string $format,
        private array $gaps,
        private int $blanks,
        private array $states,
        private array $rising,
    ) {
    }

    /** @return self|null null where the text cannot have a steady shape */
    public static function of(string $text, Exposition $read): ?self
    {
        $format = '';
        $gaps = [];
        $gap = 0;
        foreach (explode("\n", $text) as $i => $line) {
            $format .= $i === 0 ? '' : "\n";
            if ($line === '' || $line[0] === '#') {
                $gap += strlen($line) + 1;
                $format .= str_replace('%', '%%', $line);
                continue;
            }
            $sample = $read->samples[count($gaps)] ?? null;
            $blank = strrpos($line, ' ');
            if (
                $sample === null
                || $blank === false
                || $sample->atMs !== null
                || self::hasOddBlanks($line)
                || str_contains($line, ' # {')
                || TextReader::number(substr($line, $blank + 1)) === null
            ) {
                return null;
            }
            $gaps[] = $gap + $blank + 1;
            $gap = 0;
            $format .= str_replace('%', '%%', substr($line, 0, $blank)) . ' %s';
        }

        return $gaps !== [] && count($gaps) === count($read->samples)
            ? new self($format, $gaps, substr_count($text, ' '), $read->states, $read->rising)
            : null;
    }

    /**
     * @return list<float|numeric-string>|null values in the order of the samples, where they are plain as the text
     *     writes them; null where the text has another shape, a word that is no number,
     *     or anything that only a whole reading can tell rightly
     */
    public function values(string $text): ?array
    {
        $at = 0;
        $size = strlen($text);
        $words = [];
        $odd = false;
        foreach ($this->gaps as $gap) {
            $at += $gap;
            $end = $at < $size ? strpos($text, "\n", $at) : false;
            if ($end === false) {
                return null;
            }
            $words[] = $word = substr($text, $at, $end - $at);
            $odd = $odd || !is_numeric($word);
            $at = $end + 1;
        }
        if (
            vsprintf($this->format, $words) !== $text
            || substr_count($text, ' ') !== $this->blanks
            || self::hasOddBlanks($text)
        ) {
            return null;
        }
        if ($odd) {
            foreach ($words as $i => $word) {
                $words[$i] = TextReader::number($word);
                if ($words[$i] === null) {
                    return null;
                }
            }
        }

        /** @var list<float|numeric-string> $words */
        return $this->isAsUsual($words) ? $words : null;
    }

    /** @param list<float|numeric-string> $words */
    private function isAsUsual(array $words): bool
    {
        foreach ($this->states as $place) {
            if ((float) $words[$place] !== 0.0 && (float) $words[$place] !== 1.0) {
                return false;
            }
        }
        foreach ($this->rising as $place) {
            if ($words[$place] < $words[$place - 1]) {
                return false;
            }
        }

        return true;
    }

    /** Blanks other than spaces could hide inside a number. */
    private static function hasOddBlanks(string $text): bool
    {
        return str_contains($text, "\t") || str_contains($text, "\r") || str_contains($text, "\v") || str_contains($text, "\f");
    }
}

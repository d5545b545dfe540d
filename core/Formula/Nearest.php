<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** The known word closest to a misspelt one. */
final class Nearest
{
    private const LONGEST = 255;

    /** @param list<string> $known */
    public static function to(string $word, array $known): ?string
    {
        if (strlen($word) > self::LONGEST) {
            return null;
        }
        $best = null;
        $bound = max(1, (int) (strlen($word) * 0.4)) + 1;
        foreach ($known as $candidate) {
            if (abs(strlen($candidate) - strlen($word)) >= $bound || strlen($candidate) > self::LONGEST) {
                continue;
            }
            $distance = levenshtein($word, $candidate);
            if ($distance < $bound) {
                $bound = $distance;
                $best = $candidate;
            }
        }

        return $best;
    }
}

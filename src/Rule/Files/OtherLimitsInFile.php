<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\App\Files\YamlFile;
use Olivine\App\Rule\Definition\OtherLimitsFields;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Level;
use Olivine\Core\Rule\Limited;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\OtherLimits;
use Olivine\Core\Rule\Sentence\BadSentence;
use Olivine\Core\Rule\Sentence\SentenceWriter;
use Olivine\Core\Rule\Sentence\Words;
use Olivine\Core\Rule\Severity;

/**
 * Limits of their own for some, as they stand in a file:
 *
 *     except:
 *       tier = "1":
 *         major: 300
 *         clear: 250
 */
final readonly class OtherLimitsInFile
{
    private const CLEAR = 'clear';

    /**
     * @param list<string> $path
     *
     * @return list<array<string, mixed>> as they stand in a request
     *
     * @throws BadSentence where other words are expected, with their place
     */
    public static function read(YamlFile $file, array $path, mixed $written, Condition $condition): array
    {
        $isRange = $condition instanceof Limited && $condition->limits()->side->isRange();
        $others = [];
        foreach ($file->map($path, $written) as $where => $of) {
            $of = $file->map([...$path, (string) $where], $of);
            $file->refuseUnknown([...$path, (string) $where], $of, [self::CLEAR, ...array_column(Severity::cases(), 'value')]);
            $limits = [];
            foreach (array_intersect_key($of, array_flip(array_column(Severity::cases(), 'value'))) as $severity => $text) {
                [$limit, $to] = self::limit("except.{$where}", $text, $isRange);
                $limits[] = ['severity' => $severity, 'limit' => $limit, 'to' => $to];
            }
            $first = $limits === [] ? [0.0, null] : [$limits[0]['limit'], $limits[0]['to']];
            [$clear, $clearTo] = isset($of[self::CLEAR]) ? self::limit("except.{$where}", $of[self::CLEAR], $isRange) : $first;
            $others[] = ['where' => (string) $where, 'limits' => $limits, 'clear' => $clear, 'clearTo' => $clearTo];
        }

        return $others;
    }

    /**
     * @param list<OtherLimitsFields> $fields
     * @param list<OtherLimits>       $others the same as they work
     *
     * @return array<string, array<string, string>> as they are read
     */
    public static function written(array $fields, array $others): array
    {
        $written = [];
        foreach ($others as $i => $other) {
            $limits = $other->limits;
            $of = [];
            foreach ($limits->levels as $level) {
                $of[$level->severity->value] = self::words($limits, $level);
            }
            $mildest = $limits->mildest;
            $isAtLimit = $limits->clear === $mildest->limit && (!$limits->side->isRange() || $limits->clearTo === $mildest->to);
            $clear = $isAtLimit ? [] : [self::CLEAR => self::words($limits, new Level($mildest->severity, $limits->clear, $limits->clearTo))];
            $written[$fields[$i]->where] = $of + $clear;
        }

        return $written;
    }

    private static function words(Limits $limits, Level $level): string
    {
        return SentenceWriter::number($level->limit) . ($limits->side->isRange() ? ' to ' . SentenceWriter::number($level->to) : '');
    }

    /**
     * @return array{float, float|null}
     *
     * @throws BadSentence
     */
    private static function limit(string $part, mixed $text, bool $isRange): array
    {
        $words = Words::of($part, is_scalar($text) ? (string) $text : '');
        $limit = $words->number();
        $to = null;
        if ($isRange) {
            $words->take('10 to 20', 'to');
            $to = $words->number();
        }
        $words->end();

        return [$limit, $to];
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\Core\Rule\AlertTransition;

/** What a rule recorded as it looked, beside what a replay of the same readings gives. */
final readonly class RuleAgreement
{
    /**
     * @param list<AlertTransition> $recorded
     * @param list<AlertTransition> $replayed
     */
    public function __construct(public array $recorded, private array $replayed)
    {
    }

    /**
     * @return list<string> `- …` was recorded and is not replayed, `+ …` the other way round, with the value of each:
     *     `- 2026-11-27T03:12:00Z broker-north: building → raised major, at 512`
     */
    public function differences(): array
    {
        $recorded = self::byWords($this->recorded);
        $replayed = self::byWords($this->replayed);
        $differences = [
            ...self::told('-', array_diff_key($recorded, $replayed)),
            ...self::told('+', array_diff_key($replayed, $recorded)),
        ];
        usort($differences, static fn(string $a, string $b): int => substr($a, 2) <=> substr($b, 2));

        return $differences;
    }

    /**
     * @param list<AlertTransition> $moves
     *
     * @return array<string, float|null> what happened → the value
     */
    private static function byWords(array $moves): array
    {
        $words = [];
        foreach ($moves as $move) {
            $one = $move->transition;
            $at = gmdate('Y-m-d\TH:i:s\Z', intdiv($one->at->ms, 1000));
            $severity = $one->severity === null ? '' : " {$one->severity->value}";
            $words["{$at} {$move->labels->key()}: {$one->from->value} → {$one->to->value}{$severity}"] = $one->value;
        }

        return $words;
    }

    /**
     * @param array<string, float|null> $moves
     *
     * @return list<string>
     */
    private static function told(string $sign, array $moves): array
    {
        $lines = [];
        foreach ($moves as $words => $value) {
            $lines[] = "{$sign} {$words}" . ($value === null ? '' : ', at ' . round($value, 3));
        }

        return $lines;
    }
}

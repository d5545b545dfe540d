<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Printer;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Sentence\SentenceWriter;

/** Writes a rule as it stands in a file. */
final readonly class RuleFileWriter
{
    private const INDENT = 2;
    private const USUAL_STEP_SECONDS = 15;
    private const USUALLY_UNSEEN = 'nobody after 10m, lost after 3d';

    /**
     * By key, in the order in which they are written; what is as usual is left out.
     *
     * @param array<string, string> $keys of the rules that are in files, by their names
     *
     * @return array<string, mixed>
     *
     * @throws FormulaError where its formula cannot be read any more
     * @throws BadRule      where it cannot be any more
     */
    public static function written(RuleDefinition $definition, bool $enabled, array $keys): array
    {
        $rule = $definition->core();
        $sentence = SentenceWriter::of($rule->condition, $rule->holding, $rule->together);
        $written = [
            'name' => $definition->name,
            'watch' => Parser::hasNames($definition->formula) ? $definition->formula : Printer::print($rule->watched),
            'raise' => $sentence->raise,
            'clear' => $sentence->clear,
            'unseen' => $sentence->unseen === self::USUALLY_UNSEEN ? '' : $sentence->unseen,
            'together' => $sentence->together,
            'every' => $definition->stepSeconds === self::USUAL_STEP_SECONDS ? '' : Printer::duration($rule->step->ms),
            'depends-on' => array_map(static fn(string $name): string => $keys[$name] ?? $name, $definition->dependsOn),
            'service' => $definition->service,
            'owner' => $definition->owner,
            'seen' => $definition->seenShare === RuleDefinition::USUALLY_SEEN ? '' : SentenceWriter::share($definition->seenShare),
            'except' => OtherLimitsInFile::written($definition->others, $rule->others),
            'labels' => $definition->labels,
            'words' => $definition->words,
            'runbook' => $definition->runbook,
            'off' => $enabled ? '' : true,
        ];

        return array_filter($written, static fn(mixed $value): bool => $value !== '' && $value !== []);
    }

    /**
     * @param array<string, mixed> $written
     *
     * @return array<string, list<string>> key → its lines, without what they stand in
     */
    public static function lines(array $written): array
    {
        $lines = [];
        foreach ($written as $key => $value) {
            $lines[$key] = self::of($key, $value, 0);
        }

        return $lines;
    }

    /** @return list<string> */
    private static function of(string $key, mixed $value, int $indent): array
    {
        $begin = str_repeat(' ', $indent) . self::scalar($key) . ':';
        if (is_array($value) && array_is_list($value)) {
            return ["{$begin} [" . implode(', ', array_map(self::item(...), $value)) . ']'];
        }
        if (is_array($value)) {
            $lines = [$begin];
            foreach ($value as $inner => $of) {
                array_push($lines, ...self::of((string) $inner, $of, $indent + self::INDENT));
            }

            return $lines;
        }
        $isLong = is_string($value) && str_contains($value, "\n") && preg_match('~^\s|[^\n\P{C}]~u', $value) !== 1;
        if (!$isLong) {
            return ["{$begin} " . self::scalar($value)];
        }
        $lines = ["{$begin} |-"];
        foreach (explode("\n", $value) as $line) {
            $lines[] = $line === '' ? '' : str_repeat(' ', $indent + self::INDENT) . $line;
        }

        return $lines;
    }

    /** Plain where it is read back as the same text, else in quotes. */
    private static function scalar(mixed $value): string
    {
        if (is_bool($value)) {
            return $value ? 'true' : 'false';
        }
        $text = is_scalar($value) ? (string) $value : '';
        $isPlain = preg_match('~^(?:[A-Za-z(/]|\d+[a-z])(?:[^\n\p{C}#:]|:(?=\S)|(?<=\S)#)*$~u', $text) === 1 && rtrim($text, ": \t") === $text;
        $isWord = in_array(strtolower($text), ['true', 'false', 'yes', 'no', 'on', 'off', 'null', 'y', 'n'], true);

        return $isPlain && !$isWord && !is_numeric($text) ? $text : self::quoted($text);
    }

    /** The same within [ ], where commas and brackets mean something. */
    private static function item(mixed $value): string
    {
        $text = self::scalar($value);

        return preg_match('~^[A-Za-z][^,\[\]{}]*$~', $text) === 1 ? $text : self::quoted(is_scalar($value) ? (string) $value : '');
    }

    private static function quoted(string $text): string
    {
        return preg_match('~[\p{C}]~u', $text) === 1
            ? json_encode($text, JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE)
            : "'" . str_replace("'", "''", $text) . "'";
    }
}

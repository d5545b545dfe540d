<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\App\Files\BadFiles;
use Olivine\App\Files\Kinds;
use Olivine\App\Files\YamlBlock;
use Olivine\App\Files\YamlFile;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\App\Rule\RuleDefinitions;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Rule\BadRule;

/**
 * Writes the rules in service into files: into those where they stand already, key by key, so that what somebody wrote around
 * them stays; the others into one more file.
 */
final readonly class RulesExport
{
    private const LONGEST_KEY = 100;

    public function __construct(
        private RuleRepository $rules,
        private RuleDefinitions $definitions,
        private RuleFileReader $reader,
    ) {
    }

    /**
     * @param list<YamlFile> $files as they are, readable
     * @param string         $more  the name of the file for those that stand in none
     *
     * @throws BadFiles where one cannot be read
     */
    public function of(array $files, string $more): ExportedRules
    {
        $read = $this->reader->read($files);
        if ($read->faults !== []) {
            throw new BadFiles($read->faults);
        }
        $kept = $this->rules->byName();
        $keys = $this->keys($kept, $read);
        $texts = array_combine(
            array_map(static fn(YamlFile $file): string => $file->name, $files),
            array_map(static fn(YamlFile $file): string => $file->text, $files),
        );
        $before = $texts;
        $new = $leftOut = [];
        foreach ($kept as $rule) {
            $key = $keys[$rule->name];
            $file = $read->rules[$key] ?? null;
            try {
                $written = RuleFileWriter::written($this->definitions->of($rule->inService), $rule->enabled, $keys);
                if ($file === null) {
                    $new[$key] = $written;
                } else {
                    $inFile = RuleFileWriter::written($file->definition, $file->enabled, $keys);
                    $texts[$file->file] = self::patched($texts[$file->file], $key, $written, $inFile);
                }
            } catch (FormulaError|BadRule $broken) {
                $leftOut[$rule->name] = $broken instanceof BadRule ? "{$broken->field} {$broken->getMessage()}" : $broken->getMessage();
            }
        }
        if ($new !== []) {
            $texts[$more] = self::appended($texts[$more] ?? null, $new);
        }

        return new ExportedRules(array_diff_assoc($texts, $before), $leftOut);
    }

    /**
     * @param list<Rule> $kept
     *
     * @return array<string, string> name → key
     */
    private function keys(array $kept, RuleFiles $read): array
    {
        $keys = [];
        foreach ($read->rules as $key => $file) {
            $keys[$file->definition->name] = $key;
        }
        $taken = array_flip(array_keys($read->rules));
        foreach ($kept as $rule) {
            $key = $rule->fileKey ?? $keys[$rule->name] ?? null;
            if ($key === null) {
                $plain = trim((string) preg_replace('~[^a-z0-9]+~', '-', strtolower($rule->name)), '-');
                $begin = $key = substr($plain === '' ? 'rule' : $plain, 0, self::LONGEST_KEY);
                for ($i = 2; isset($taken[$key]); ++$i) {
                    $key = "{$begin}-{$i}";
                }
            }
            $taken[$key] = true;
            $keys[$rule->name] = $key;
        }

        return $keys;
    }

    /**
     * @param array<string, mixed> $is
     * @param array<string, mixed> $was as the file says it
     */
    private static function patched(string $text, string $key, array $is, array $was): string
    {
        foreach (self::changed($is, $was) as $field) {
            $text = self::withField($text, $key, $field, $is, $was);
        }

        return $text;
    }

    /**
     * @param array<string, mixed> $is
     * @param array<string, mixed> $was
     */
    private static function withField(string $text, string $key, string $field, array $is, array $was): string
    {
        $path = [RuleFileReader::KIND, $key];
        $places = YamlFile::of('', $text, Kinds::ALL);
        $lines = RuleFileWriter::lines($is);
        $block = YamlBlock::at($text, $places->lineOf($path));
        if ($block === null) {
            // Written on one line: with more to say it becomes a block.
            return YamlBlock::replaced($text, $places->lineOf($path), $key, array_merge(...array_values($lines)));
        }
        [$now, $before] = [$is[$field] ?? null, $was[$field] ?? null];
        $inner = is_array($now) && is_array($before) && !array_is_list($now) ? YamlBlock::at($text, $places->lineOf([...$path, $field])) : null;
        if ($inner !== null && is_array($now) && is_array($before)) {
            $innerLines = RuleFileWriter::lines(array_combine(array_map(strval(...), array_keys($now)), $now));
            foreach (self::changed($now, $before) as $name) {
                $inner->put($name, $innerLines[$name] ?? [], array_map(strval(...), array_keys($now)));
            }

            return $inner->text();
        }
        $order = RuleFileReader::KEYS;
        $block->put($field, $lines[$field] ?? [], array_slice($order, 0, (int) array_search($field, $order, true)));

        return $block->text();
    }

    /** @param array<string, array<string, mixed>> $new by key */
    private static function appended(?string $text, array $new): string
    {
        $lines = [$text === null ? "olivine: 1\nrules:" : rtrim($text, "\n")];
        foreach ($new as $key => $written) {
            $lines[] = "  {$key}:";
            array_push($lines, ...self::indented(array_merge(...array_values(RuleFileWriter::lines($written))), '    '));
        }

        return implode("\n", $lines) . "\n";
    }

    /**
     * @param list<string> $lines
     *
     * @return list<string>
     */
    private static function indented(array $lines, string $pad): array
    {
        return array_map(static fn(string $line): string => $line === '' ? '' : $pad . $line, $lines);
    }

    /**
     * @param array<array-key, mixed> $is
     * @param array<array-key, mixed> $was
     *
     * @return list<string> the keys whose values differ
     */
    private static function changed(array $is, array $was): array
    {
        $keys = array_map(strval(...), array_keys($is + $was));

        return array_values(array_filter($keys, static fn(string $key): bool => ($is[$key] ?? null) !== ($was[$key] ?? null)));
    }
}

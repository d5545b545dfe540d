<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\App\Files\FileFault;
use Olivine\App\Files\Kinds;
use Olivine\App\Files\YamlFile;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Definition\FieldsOf;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Node\Number;
use Olivine\Core\Formula\Node\Unit;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Sentence\BadSentence;
use Olivine\Core\Rule\Sentence\Raising;
use Olivine\Core\Rule\Sentence\Sentence;
use Olivine\Core\Rule\Sentence\SentenceReader;
use Olivine\Core\Time\Duration;

/**
 * Reads rules out of files, into the class that requests are read into, so that both are held to the same. One that cannot be
 * read is told with its place and keeps none of the others.
 */
final readonly class RuleFileReader
{
    public const KIND = Kinds::RULES;
    public const KEYS = [
        'name', 'watch', 'raise', 'clear', 'unseen', 'together', 'every', 'depends-on', 'service', 'owner', 'labels',
        'runbook', 'off', 'was', 'seen', 'except', 'words',
    ];
    /** Field of a definition → the key it is written at. */
    private const KEY_OF = [
        'formula' => 'watch',
        'condition' => 'raise',
        'limits' => 'raise',
        'least' => 'raise',
        'spanSeconds' => 'raise',
        'warmUpSeconds' => 'raise',
        'agoSeconds' => 'raise',
        'withinSeconds' => 'raise',
        'counting' => 'raise',
        'need' => 'raise',
        'of' => 'raise',
        'side' => 'raise',
        'holdSeconds' => 'raise',
        'clear' => 'clear',
        'clearHoldSeconds' => 'clear',
        'blindAfterSeconds' => 'unseen',
        'blindSeverity' => 'unseen',
        'lostAfterSeconds' => 'unseen',
        'stepSeconds' => 'every',
        'dependsOn' => 'depends-on',
        'share' => 'together',
        'seenShare' => 'seen',
        'others' => 'except',
        'per' => 'together',
    ];

    public function __construct(private Definitions $definitions)
    {
    }

    /** @param list<YamlFile> $files */
    public function read(array $files): RuleFiles
    {
        $rules = [];
        $names = [];
        foreach ($files as $file) {
            foreach ($file->things(self::KIND) as $key => $_) {
                $names[(string) $key] = self::nameOf($file, (string) $key);
            }
        }
        foreach ($files as $file) {
            foreach ($file->things(self::KIND) as $key => $written) {
                $key = (string) $key;
                if (isset($rules[$key])) {
                    $file->fault([self::KIND, $key], "there is a rule {$key} in {$rules[$key]->file} already");
                    continue;
                }
                $rule = $this->rule($file, [self::KIND, $key], $written, $names[$key] ?? $key, $names);
                if ($rule !== null) {
                    $rules[$key] = $rule;
                }
            }
        }
        $faults = array_merge(...array_map(static fn(YamlFile $file): array => $file->faults(), $files), ...[[]]);
        usort($faults, static fn(FileFault $a, FileFault $b): int => [$a->file, $a->line] <=> [$b->file, $b->line]);

        return new RuleFiles($rules, $faults);
    }

    /**
     * One rule, wherever it stands in a file; its faults are told there.
     *
     * @param non-empty-list<string> $path  of its key
     * @param string                 $name  as it is called
     * @param array<string, string>  $names of the rules it may lean on, by their keys
     */
    public function rule(YamlFile $file, array $path, mixed $written, string $name, array $names): ?RuleOfFile
    {
        $key = end($path);
        $before = count($file->faults());
        if (preg_match('~^[a-z0-9][a-z0-9-]{0,119}$~D', $key) !== 1) {
            $file->fault($path, 'a key is small letters, digits and dashes, such as boarding-queue');
        }
        $written = $file->map($path, $written);
        $file->refuseUnknown($path, $written, self::KEYS);
        foreach (['watch', 'clear', 'unseen', 'together', 'name', 'service', 'owner', 'runbook', 'was', 'every', 'seen'] as $text) {
            if (isset($written[$text]) && !is_scalar($written[$text])) {
                $file->fault([...$path, $text], "{$text} must be words");
            }
        }
        if (count($file->faults()) > $before) {
            return null;
        }
        $formula = self::text($written['watch'] ?? '');
        try {
            Parser::parse($formula);
        } catch (FormulaError $fault) {
            $file->faultIn([...$path, 'watch'], $formula, $fault->place->offset, $fault->getMessage());
        }
        try {
            $definition = $this->definition($file, $path, $written, $name, $names);
        } catch (BadSentence $fault) {
            $part = [...$path, ...explode('.', $fault->part, 2)];
            $said = self::said($written, $fault->part);
            $file->faultIn($part, $said, $fault->place->offset, $fault->getMessage());
        } catch (BadRule $fault) {
            $file->fault([...$path, self::KEY_OF[$fault->field] ?? 'raise'], self::inWords($fault->field, $fault->getMessage()));
        } catch (Problem $fault) {
            $field = is_string($fault->more['field'] ?? null) ? $fault->more['field'] : '';
            $at = self::KEY_OF[$field] ?? $field;
            $file->fault([...$path, $at], str_replace($field, $at, $fault->getMessage()));
        }

        return isset($definition) && count($file->faults()) === $before
            ? new RuleOfFile(
                $key,
                isset($written['was']) ? self::text($written['was']) : null,
                $definition,
                ($written['off'] ?? false) !== true,
                $file->name,
                $file->lineOf($path),
            )
            : null;
    }

    /**
     * @param list<string>            $path
     * @param array<array-key, mixed> $written
     * @param array<string, string>   $names
     *
     * @throws BadSentence where other words are expected, with their place
     * @throws BadRule     naming the field that cannot be so
     * @throws Problem     naming the field and what it must be
     */
    private function definition(YamlFile $file, array $path, array $written, string $name, array $names): RuleDefinition
    {
        if (isset($written['off']) && !is_bool($written['off'])) {
            $file->fault([...$path, 'off'], 'off must be true or false');
        }
        $raising = SentenceReader::read(self::sentence($file, $path, $written));
        $labels = $file->map([...$path, 'labels'], $written['labels'] ?? []);
        $words = $file->map([...$path, 'words'], $written['words'] ?? []);
        $dependsOn = (array) ($written['depends-on'] ?? []);

        return $this->definitions->read(RuleDefinition::class, [
            'name' => $name,
            'formula' => self::text($written['watch'] ?? ''),
            'condition' => json_decode(
                json_encode(FieldsOf::condition($raising->condition), JSON_THROW_ON_ERROR | JSON_PRESERVE_ZERO_FRACTION),
                true,
                16,
                JSON_THROW_ON_ERROR,
            ),
            'holdSeconds' => self::seconds('holdSeconds', $raising->holding->hold),
            'clearHoldSeconds' => self::seconds('clearHoldSeconds', $raising->holding->clearHold),
            'blindAfterSeconds' => self::seconds('blindAfterSeconds', $raising->holding->blindAfter),
            'blindSeverity' => $raising->holding->blindSeverity?->value,
            'lostAfterSeconds' => self::seconds('lostAfterSeconds', $raising->holding->lostAfter),
            'stepSeconds' => isset($written['every']) ? self::every($written['every']) : 15,
            'service' => self::text($written['service'] ?? ''),
            'owner' => self::text($written['owner'] ?? ''),
            'runbook' => trim(self::text($written['runbook'] ?? '')),
            'labels' => array_map(static fn(mixed $value): mixed => is_scalar($value) ? self::text($value) : $value, $labels),
            'together' => self::together($raising),
            'dependsOn' => array_map(
                static fn(mixed $one): mixed => is_scalar($one) ? $names[self::text($one)] ?? self::text($one) : $one,
                array_values($dependsOn),
            ),
            'seenShare' => isset($written['seen']) ? self::share($written['seen']) : RuleDefinition::USUALLY_SEEN,
            'others' => OtherLimitsInFile::read($file, [...$path, 'except'], $written['except'] ?? [], $raising->condition),
            'words' => array_map(static fn(mixed $one): mixed => is_scalar($one) ? trim(self::text($one)) : $one, $words),
        ]);
    }

    /**
     * @param list<string>            $path
     * @param array<array-key, mixed> $written
     *
     * @throws BadSentence
     */
    private static function sentence(YamlFile $file, array $path, array $written): Sentence
    {
        $raise = [];
        foreach ($file->map([...$path, 'raise'], $written['raise'] ?? []) as $severity => $words) {
            $raise[(string) $severity] = self::text($words);
        }

        return new Sentence(
            $raise,
            self::text($written['clear'] ?? ''),
            self::text($written['unseen'] ?? ''),
            self::text($written['together'] ?? ''),
        );
    }

    /** @return array<string, mixed>|null */
    private static function together(Raising $raising): ?array
    {
        $together = $raising->together;

        return $together === null ? null : ['per' => $together->per, 'least' => $together->least, 'share' => $together->share];
    }

    /** @throws BadRule where it is no duration of whole seconds */
    private static function every(mixed $written): int
    {
        $words = self::text($written);
        try {
            $number = Parser::parse($words);
        } catch (FormulaError) {
            $number = null;
        }
        $isDuration = $number instanceof Number && $number->unit === Unit::Seconds;

        return $isDuration && $number->value < 1e6
            ? self::seconds('stepSeconds', Duration::ofMs((int) round(1000 * $number->value)))
            : throw new BadRule('stepSeconds', 'every must be a duration such as 15s');
    }

    /** @throws BadRule where it is no share */
    private static function share(mixed $written): float
    {
        try {
            $number = Parser::parse(self::text($written));
        } catch (FormulaError) {
            $number = null;
        }

        return $number instanceof Number ? $number->value : throw new BadRule('seenShare', 'seen must be a share such as 80%');
    }

    /** @throws BadRule where it is not of whole seconds */
    private static function seconds(string $field, Duration $duration): int
    {
        return $duration->ms % 1000 === 0 ? $duration->seconds() : throw new BadRule($field, 'must be whole seconds');
    }

    /** The name of a rule, or words made of its key. */
    private static function nameOf(YamlFile $file, string $key): string
    {
        $written = $file->things(self::KIND)[$key] ?? null;
        $name = is_array($written) ? $written['name'] ?? null : null;

        return is_scalar($name) ? self::text($name) : ucfirst(str_replace('-', ' ', $key));
    }

    /** @param array<array-key, mixed> $written */
    private static function said(array $written, string $part): string
    {
        $value = $written;
        foreach (explode('.', $part, 2) as $key) {
            $value = is_array($value) ? $value[$key] ?? '' : '';
        }

        return self::text($value);
    }

    private static function text(mixed $value): string
    {
        return match (true) {
            is_bool($value) => $value ? 'true' : 'false',
            is_float($value) => (string) json_encode($value),
            is_scalar($value) => (string) $value,
            default => '',
        };
    }

    /** The words of a fault begin with what it is called in the file. */
    private static function inWords(string $field, string $message): string
    {
        $key = self::KEY_OF[$field] ?? $field;

        return str_starts_with($message, $key) ? $message : "{$key} {$message}";
    }
}

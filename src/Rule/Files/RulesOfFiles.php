<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\App\Files\BadFiles;
use Olivine\App\Files\YamlFile;
use Olivine\Core\Exposition\TextReadings;
use Olivine\Core\Formula\ByName;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\ManyRules;
use Olivine\Core\Time\Instant;

/** Rules of files as they work: read, checked as far as that goes without a server, and run over readings. */
final readonly class RulesOfFiles
{
    public function __construct(private RuleFileReader $reader)
    {
    }

    /** @param list<YamlFile> $files */
    public function read(array $files): RuleFiles
    {
        $read = $this->reader->read($files);
        $checker = new Checker(new ByName());
        foreach ($read->rules as $rule) {
            $file = array_find($files, static fn(YamlFile $one): bool => $one->name === $rule->file);
            try {
                $checker->unitOf(Parser::parse($rule->definition->formula));
            } catch (FormulaError $error) {
                $file?->faultIn(
                    [RuleFileReader::KIND, $rule->key, 'watch'],
                    $rule->definition->formula,
                    $error->place->offset,
                    $error->getMessage(),
                );
            }
        }
        $faults = array_merge(...array_map(static fn(YamlFile $file): array => $file->faults(), $files), ...[[]]);

        return new RuleFiles($read->rules, $faults);
    }

    /**
     * @param list<YamlFile> $files
     *
     * @throws BadFiles where anything in them cannot be read
     */
    public function whole(array $files): RuleFiles
    {
        $read = $this->read($files);

        return $read->faults === [] ? $read : throw new BadFiles($read->faults);
    }

    /**
     * @return array<string, list<AlertTransition>> by the key of the rule
     *
     * @throws BadRule       where rules look at each other's alerts in a ring
     * @throws FormulaError  where two sides cannot be paired
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    public static function run(RuleFiles $read, TextReadings $readings, \DateTimeZone $zone, Instant $after, Instant $through): array
    {
        $cores = $keys = [];
        foreach ($read->rules as $key => $rule) {
            if ($rule->enabled) {
                $cores[$rule->definition->name] = $rule->definition->core();
                $keys[$rule->definition->name] = $key;
            }
        }
        $moved = [];
        foreach ((new ManyRules($cores))->run($readings, $zone, $after, $through) as $name => $outcome) {
            $moved[$keys[$name]] = $outcome->transitions;
        }

        return $moved;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\App\Files\BadFiles;
use Olivine\App\Files\FileFault;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\App\Rule\Repository\RuleRevisionRepository;
use Olivine\App\Rule\RuleDefinitions;
use Olivine\App\Rule\RuleForm;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Tree;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\ManyRules;

/** Holds the rules of files against those that are there, and says what would have to be done. */
final readonly class RulePlanner
{
    public function __construct(
        private RuleRepository $rules,
        private RuleRevisionRepository $revisions,
        private RuleDefinitions $definitions,
        private RuleForm $form,
    ) {
    }

    /**
     * @param bool $isWhole the files are all that there is: what stands in none of them would go
     *
     * @return list<PlannedRule> by key
     *
     * @throws BadFiles     where the rules could not stand together
     * @throws FormulaError where the formula cannot be read or worked out
     * @throws Problem      what is wrong with the request, and the remedy
     */
    public function plan(RuleFiles $files, bool $isWhole): array
    {
        $kept = $this->rules->byName();
        $keys = [];
        foreach ($kept as $rule) {
            $keys[$rule->name] = $rule->fileKey ?? $rule->name;
        }
        foreach ($files->rules as $key => $file) {
            $keys[$file->definition->name] = $key;
        }
        $planned = [];
        $left = array_column($kept, null, 'id');
        foreach ($files->rules as $key => $file) {
            $rule = self::found($kept, $file);
            unset($left[$rule->id ?? 0]);
            $planned[] = $rule === null
                ? new PlannedRule(Planned::Add, $key, $file->definition->name, $file, null)
                : $this->compared($file, $rule, $keys);
        }
        foreach ($left as $rule) {
            if ($isWhole) {
                $planned[] = new PlannedRule(Planned::Remove, $rule->fileKey ?? '', $rule->name, null, $rule, users: $this->form->usersOf($rule));
            }
        }
        $this->refuseWhatCannotStand($files, $isWhole ? [] : array_values($left));
        usort($planned, static fn(PlannedRule $a, PlannedRule $b): int => [$a->key, $a->name] <=> [$b->key, $b->name]);

        return $planned;
    }

    /** @param list<Rule> $kept */
    private static function found(array $kept, RuleOfFile $file): ?Rule
    {
        return array_find($kept, static fn(Rule $rule): bool => $rule->fileKey === $file->key)
            ?? array_find($kept, static fn(Rule $rule): bool => $file->was !== null && $rule->fileKey === $file->was)
            ?? array_find($kept, static fn(Rule $rule): bool => $rule->fileKey === null && $rule->name === $file->definition->name);
    }

    /**
     * @param array<string, string> $keys
     *
     * @throws Problem
     */
    private function compared(RuleOfFile $file, Rule $rule, array $keys): PlannedRule
    {
        $name = $file->definition->name;
        $inFile = self::fields($file->definition, $file->enabled, $keys);
        $now = self::fields($this->definitions->of($rule->inService), $rule->enabled, $keys);
        $applied = $this->applied($rule, $keys);
        $changes = [];
        foreach (array_keys($inFile + $now) as $field) {
            $was = $now[$field] ?? '';
            $is = $inFile[$field] ?? '';
            if ($was !== $is) {
                $changes[$field] = new FieldChange($was, $is, $applied === null ? null : $applied[$field] ?? '');
            }
        }
        $what = match (true) {
            $changes !== [] && $rule->wasChangedByHand() => Planned::ByHand,
            $changes !== [] => Planned::Change,
            $rule->fileKey !== $file->key || $rule->fileName !== $file->file || $rule->wasChangedByHand() => Planned::Adopt,
            default => Planned::Same,
        };

        return new PlannedRule($what, $file->key, $name, $file, $rule, $changes);
    }

    /**
     * @param array<string, string> $keys
     *
     * @return array<string, string>|null what its file said when it was applied last, where somebody changed it since
     *
     * @throws Problem
     */
    private function applied(Rule $rule, array $keys): ?array
    {
        $revision = $rule->wasChangedByHand() ? $this->revisions->find($rule->appliedId) : null;

        return $revision === null ? null : self::fields($this->definitions->of($revision), $rule->enabled, $keys);
    }

    /**
     * @param array<string, string> $keys
     *
     * @return array<string, string> as the file would say it, by key; of what is inside by both keys
     */
    private static function fields(RuleDefinition $definition, bool $enabled, array $keys): array
    {
        try {
            $written = RuleFileWriter::written($definition, $enabled, $keys);
        } catch (FormulaError|BadRule $error) {
            return ['watch' => $definition->formula, 'fault' => $error->getMessage()];
        }
        $fields = [];
        foreach ($written as $key => $value) {
            if (is_array($value) && !array_is_list($value)) {
                foreach ($value as $inner => $words) {
                    $fields["{$key}.{$inner}"] = is_scalar($words) ? (string) $words : '';
                }
            } else {
                $fields[$key] = is_bool($value) ? 'true' : implode(', ', array_filter((array) $value, is_string(...)));
            }
        }

        return $fields;
    }

    /**
     * Names must be one rule's only, and the rules whose alerts others look at must be there.
     *
     * @param list<Rule> $others that stay beside them
     *
     * @throws BadFiles
     * @throws Problem
     * @throws FormulaError
     */
    private function refuseWhatCannotStand(RuleFiles $files, array $others): void
    {
        $faults = [];
        $cores = [];
        foreach ($others as $rule) {
            try {
                $cores[$rule->name] = $this->definitions->of($rule->inService)->core();
            } catch (FormulaError|BadRule) {
                // It is broken already, and told as such.
            }
        }
        $names = array_column($others, 'name', 'name');
        foreach ($files->rules as $rule) {
            $definition = $rule->definition;
            if (isset($names[$definition->name])) {
                $faults[] = new FileFault($rule->file, $rule->line, 1, "there is another rule named {$definition->name}");
            }
            $names[$definition->name] = $definition->name;
            try {
                $this->form->checkCondition($definition);
                $cores[$definition->name] = $definition->core();
            } catch (FormulaError|BadRule|Problem $error) {
                $faults[] = new FileFault($rule->file, $rule->line, 1, $error->getMessage());
            }
        }
        foreach ($files->rules as $rule) {
            $named = [...$rule->definition->dependsOn, ...Tree::rules(Parser::parse($rule->definition->formula))];
            foreach (array_diff($named, $names) as $missing) {
                $faults[] = new FileFault($rule->file, $rule->line, 1, "there is no rule {$missing} whose alerts it could look at");
            }
        }
        try {
            (new ManyRules($cores))->inOrder();
        } catch (BadRule $ring) {
            $first = array_values($files->rules)[0] ?? null;
            $faults[] = new FileFault($first->file ?? '', $first->line ?? 1, 1, $ring->getMessage());
        }
        if ($faults !== []) {
            throw new BadFiles($faults);
        }
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Nearest;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Tree;
use Olivine\Core\Rule\BadRule;

/** What can only be told of a rule beside what is there: whether its formula fits what is known, and its name nobody else's. */
final readonly class RuleForm
{
    public function __construct(
        private RuleRepository $rules,
        private RuleDefinitions $definitions,
        private Checker $checker,
    ) {
    }

    /**
     * @param Rule|null $self which it would be
     *
     * @throws Problem      naming the field
     * @throws FormulaError where the formula cannot be read or worked out
     * @throws BadRule      naming the field that cannot be so
     */
    public function check(RuleDefinition $definition, ?Rule $self): void
    {
        $same = $this->rules->named($definition->name);
        if ($same !== null && $same->id !== $self?->id) {
            throw Problem::field('name', "There is a rule named {$definition->name} already");
        }
        $this->checkCondition($definition);
        $this->checkOthers($definition);
        if ($self !== null && $self->name !== $definition->name) {
            $users = $this->usersOf($self);
            if ($users !== []) {
                throw Problem::field('name', 'name is what ' . implode(', ', $users) . ' calls it; change it there first');
            }
        }
    }

    /**
     * All that decides what it raises; what a replay needs.
     *
     * @throws Problem      naming the field and what it must be
     * @throws FormulaError where the formula cannot be read or worked out
     * @throws BadRule      naming the field that cannot be so
     */
    public function checkCondition(RuleDefinition $definition): void
    {
        $this->checker->unitOf($definition->core()->watched);
        $isAddress = preg_match('~^[a-z][a-z0-9+.-]*:~i', $definition->runbook) === 1;
        if ($isAddress && preg_match('~^https?://~i', $definition->runbook) !== 1) {
            throw Problem::field('runbook', 'runbook must be a web address (http or https) or plain words');
        }
    }

    /**
     * @return list<string> the names of the rules that look at the alerts of this one
     */
    public function usersOf(Rule $rule): array
    {
        $users = [];
        foreach ($this->rules->byName() as $other) {
            $named = array_merge(...array_values($this->othersOf($this->definitions->of($other->inService))));
            if ($other->id !== $rule->id && in_array($rule->name, $named, true)) {
                $users[] = $other->name;
            }
        }

        return $users;
    }

    /**
     * The rules whose alerts it looks at must be there, and must not look at its own in turn.
     *
     * @throws Problem      naming the field and what it must be
     * @throws FormulaError where the formula cannot be read
     */
    private function checkOthers(RuleDefinition $definition): void
    {
        $known = [];
        foreach ($this->rules->byName() as $rule) {
            $known[$rule->name] = $this->othersOf($this->definitions->of($rule->inService));
        }
        $known[$definition->name] = $this->othersOf($definition);
        foreach ($known[$definition->name] as $field => $names) {
            foreach ($names as $name) {
                if (!isset($known[$name])) {
                    $near = Nearest::to($name, array_keys($known));
                    $remedy = $near === null ? '' : "; did you mean {$near}?";
                    throw Problem::field($field, "There is no rule named {$name}{$remedy}");
                }
                if ($name === $definition->name || self::leads($known, $name, $definition->name)) {
                    throw Problem::field($field, "{$name} looks at the alerts of this rule itself, and neither could ever be told");
                }
            }
        }
    }

    /** @return array<string, list<string>> field → the rules that it names */
    private function othersOf(RuleDefinition $definition): array
    {
        try {
            $inFormula = Tree::rules(Parser::parse($definition->formula));
        } catch (FormulaError) {
            $inFormula = [];
        }

        return ['dependsOn' => $definition->dependsOn, 'formula' => $inFormula];
    }

    /**
     * @param array<string, array<string, list<string>>> $known
     * @param list<string>                               $passed
     */
    private static function leads(array $known, string $from, string $to, array $passed = []): bool
    {
        foreach (array_merge(...array_values($known[$from] ?? [[]])) as $next) {
            if ($next === $to || (!in_array($next, $passed, true) && self::leads($known, $next, $to, [...$passed, $next]))) {
                return true;
            }
        }

        return false;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\ReadingSource;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Formula\Tree;
use Olivine\Core\Time\Instant;

/** Several rules over the same readings: those whose alerts others look at are run before these. */
final readonly class ManyRules
{
    /** @param array<string, Rule> $rules by name */
    public function __construct(private array $rules)
    {
    }

    /**
     * @return array<string, Outcome> by name
     *
     * @throws FormulaError  where two sides cannot be paired
     * @throws TooMuchToRead where a single instant would take too much
     * @throws BadRule       where rules look at each other's alerts in a ring
     */
    public function run(ReadingSource $readings, \DateTimeZone $zone, Instant $after, Instant $through): array
    {
        $sources = new AlertsSoFar($readings);
        $evaluator = new Evaluator($sources, zone: static fn(): \DateTimeZone => $zone);
        $engine = new RuleEngine(new AllThatIsThere($evaluator));
        $outcomes = [];
        foreach ($this->inOrder() as $name) {
            $rule = $this->rules[$name];
            $outcomes[$name] = $engine->run($rule, [], $after, $through->onStep($rule->step));
            $sources->add($name, $outcomes[$name]);
        }

        return $outcomes;
    }

    /**
     * @return list<string> names, each after those whose alerts it looks at
     *
     * @throws BadRule where they look at each other's alerts in a ring
     */
    public function inOrder(): array
    {
        $order = [];
        foreach (array_keys($this->rules) as $name) {
            $this->place((string) $name, $order, []);
        }

        return array_keys($order);
    }

    /**
     * @param array<string, true> $order those that have their place
     * @param list<string>        $above those that look at this one
     *
     * @throws BadRule
     */
    private function place(string $name, array &$order, array $above): void
    {
        $rule = $this->rules[$name] ?? null;
        if ($rule === null || isset($order[$name])) {
            return;
        }
        if (in_array($name, $above, true)) {
            throw new BadRule('dependsOn', "{$name} looks at its own alerts by way of " . implode(', ', $above));
        }
        foreach ([...$rule->dependsOn, ...Tree::rules($rule->watched)] as $other) {
            $this->place($other, $order, [...$above, $name]);
        }
        $order[$name] = true;
    }
}

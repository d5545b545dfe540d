<?php

declare(strict_types=1);

namespace Olivine\App\Demo;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\People\Entity\Person;
use Olivine\App\Rule\AlertKey;
use Olivine\App\Rule\Definition\FieldsOf;
use Olivine\App\Rule\Entity\AlertMark;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\Entity\RuleDraft;
use Olivine\App\Rule\RuleDefinitions;
use Olivine\App\Rule\Transitions;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Spell;
use Olivine\Core\Rule\Spells;
use Olivine\Core\Rule\Worth;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** What the crew of Saltmarsh Ferries said of the alerts of those days, and a rule that one of them is about to change. */
final readonly class DemoJudgements
{
    /** Rule → by whom, and from which length on an alert was useful. */
    private const USEFUL_FROM_MINUTES = [
        'Boarding queue' => ['ines@saltmarsh.example', 45],
        'Age of the last backup' => ['tomasz@saltmarsh.example', 0],
        'Network errors a second' => ['tomasz@saltmarsh.example', 10_000],
        'Gate memory over its limit' => ['oyelaran@saltmarsh.example', 0],
        'Web processors' => ['ines@saltmarsh.example', 10_000],
    ];
    private const MARKED_AFTER_HOURS = 6;
    private const DRAFTED = 'Web processors';
    private const DRAFTED_BY = 'ines@saltmarsh.example';
    private const DRAFTED_LIMIT = 0.8;
    private const DRAFTED_HOLD_SECONDS = 900;

    public function __construct(
        private EntityManagerInterface $entities,
        private Transitions $transitions,
        private RuleDefinitions $definitions,
    ) {
    }

    /**
     * @throws FormulaError where its formula cannot be read
     * @throws BadRule      naming the field that cannot be so
     */
    public function make(Instant $from, Instant $now): void
    {
        $people = array_column($this->entities->getRepository(Person::class)->findAll(), null, 'email');
        $happened = $this->transitions->raisedAndEnded($from);
        foreach ($this->entities->getRepository(Rule::class)->findAll() as $rule) {
            [$author, $useful] = self::USEFUL_FROM_MINUTES[$rule->name] ?? [null, 0];
            foreach ($author === null ? [] : Spells::of($happened[$rule->id()] ?? []) as $spell) {
                $this->mark($rule, $spell, Duration::ofMinutes($useful), $people[$author] ?? null, $now);
            }
            if ($rule->name === self::DRAFTED) {
                $this->draft($rule, $people[self::DRAFTED_BY] ?? null, $now);
            }
        }
        $this->entities->flush();
    }

    private function mark(Rule $rule, Spell $spell, Duration $useful, ?Person $author, Instant $now): void
    {
        if ($spell->cleared === null) {
            return;
        }
        $worth = $spell->cleared->since($spell->raised)->isAtLeast($useful) ? Worth::Useful : Worth::Noise;
        $at = $spell->cleared->plus(Duration::ofHours(self::MARKED_AFTER_HOURS))->earlier($now);
        $this->entities->persist(
            new AlertMark(
                $rule->id(),
                AlertKey::hash($spell->labels),
                $spell->labels->labels,
                $spell->raised,
                $spell->cleared,
                $worth,
                $author?->id,
                $at,
            ),
        );
    }

    /**
     * @throws FormulaError
     * @throws BadRule
     */
    private function draft(Rule $rule, ?Person $author, Instant $now): void
    {
        $definition = $this->definitions->of($rule->inService);
        $condition = $definition->core()->condition->moved(self::DRAFTED_LIMIT);
        $changed = $definition->raising(FieldsOf::condition($condition), self::DRAFTED_HOLD_SECONDS);
        $this->entities->persist(new RuleDraft($rule->id(), RuleDefinitions::kept($changed), true, $author?->id, $now));
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Clock;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\Entity\RuleRevision;
use Olivine\App\Rule\Repository\RuleRevisionRepository;

/** Puts rules into service: each change is a revision more, and none is ever changed. */
final readonly class RuleRevisions
{
    public function __construct(
        private EntityManagerInterface $entities,
        private RuleRevisionRepository $revisions,
        private Clock $clock = new Clock(),
    ) {
    }

    /** A rule that is new. */
    public function begin(RuleDefinition $definition, bool $enabled = true, ?Person $author = null, string $reason = ''): Rule
    {
        $now = $this->clock->now();
        $revision = new RuleRevision(0, 1, RuleDefinitions::kept($definition), $author?->id, $reason, $now);
        $rule = new Rule($definition->name, $revision, $now);
        $rule->enabled = $enabled;
        $this->entities->persist($rule);
        $this->entities->flush();
        $revision->ruleId = $rule->id();
        $this->entities->flush();

        return $rule;
    }

    /** What says the same as the one in service is no revision of its own. */
    public function change(Rule $rule, RuleDefinition $definition, ?Person $author, string $reason): void
    {
        $kept = RuleDefinitions::kept($definition);
        if ($kept !== $rule->inService->definition) {
            $number = ($this->revisions->of($rule->id(), 1)[0] ?? $rule->inService)->number + 1;
            $revision = new RuleRevision($rule->id(), $number, $kept, $author?->id, $reason, $this->clock->now());
            $this->entities->persist($revision);
            $rule->inService = $revision;
            $rule->name = $definition->name;
        }
        $this->entities->flush();
    }
}

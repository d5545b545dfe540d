<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Definition\NamedDefinition;
use Olivine\App\Delivery\Definition\PathDefinition;
use Olivine\App\Delivery\Definition\PlanDefinition;
use Olivine\App\Delivery\Entity\PlanDraft;
use Olivine\App\Delivery\Repository\PlanDraftRepository;
use Olivine\App\Delivery\Repository\PlanRevisionRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;

/** What people change of who hears, part by part, before it is in service. There is one draft, which all share. */
final readonly class PlanDrafts
{
    public function __construct(
        private EntityManagerInterface $entities,
        private PlanDraftRepository $drafts,
        private PlanRevisionRepository $revisions,
        private PlanInService $inService,
        private Plans $plans,
        private Definitions $definitions,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @param string|null                  $name   of the part it changes; null: it is new
     * @param array<array-key, mixed>|null $was    the part as it was read, to change it
     * @param string|null                  $before of a new path, which one comes after it; null: everything else
     *
     * @throws Problem 409 with the part as it is now, where somebody changed it since it was read; 422 naming the field
     */
    public function put(PlanPart $kind, ?string $name, NamedDefinition $part, ?array $was, ?string $before, Person $author): void
    {
        $plan = $this->held();
        $parts = $kind->of($plan);
        if ($name === null && isset($parts[$part->name()])) {
            throw Problem::field('name', "There is a {$kind->value} named {$part->name()} already");
        }
        if ($name !== null) {
            $this->holdAsRead($kind, $parts[$name] ?? null, $name, $was);
            if ($part->name() !== $name) {
                throw Problem::field('name', "The name stays {$name}, as incidents and others go by it; copy it to have another one");
            }
        }
        $changed = $kind->laidInto($plan, PlanChanges::put($parts, $part->name(), $part, $before));
        $this->plans->checkPart($changed, $kind, $part->name());
        $this->keep($changed, $author);
    }

    /** @throws Problem 409 where others still use it */
    public function remove(PlanPart $kind, string $name, Person $author): void
    {
        $plan = $this->held();
        $parts = $kind->of($plan);
        isset($parts[$name]) || throw new Problem(404, "There is no {$kind->value} {$name}");
        if ($kind === PlanPart::Path && $name === PathDefinition::EVERYTHING_ELSE) {
            throw new Problem(409, 'Everything else stays, so that nothing falls through');
        }
        $uses = PlanUses::of($plan, $kind->value, $name);
        if ($uses !== []) {
            throw new Problem(409, sprintf('The %s %s is used by %s; take it out there first', $kind->value, $name, implode(' and ', $uses)));
        }
        unset($parts[$name]);
        $this->keep($kind->laidInto($plan, $parts), $author);
    }

    /**
     * Out of every rung, copy and team.
     *
     * @param string $kind `person`, `team`, `role`, `channel`
     *
     * @throws Problem 422 where a ladder would have nobody left
     */
    public function takeOut(string $kind, string $name, Person $author): void
    {
        $this->keep(PlanUses::without($this->held(), $kind, $name), $author);
    }

    /**
     * @param list<string> $names of all paths but everything else, in order
     *
     * @throws Problem 409 where there are other paths by now
     */
    public function order(array $names, Person $author): void
    {
        $plan = $this->held();
        $paths = PlanPart::Path->of($plan);
        $all = [...$names, PathDefinition::EVERYTHING_ELSE];
        if (count($all) !== count($paths) || array_diff(array_keys($paths), $all) !== []) {
            throw new Problem(409, 'Somebody added or removed a path meanwhile; look again');
        }
        $this->keep(PlanPart::Path->laidInto($plan, array_map(static fn(string $name): NamedDefinition => $paths[$name], $all)), $author);
    }

    /** A way back: a former revision as a draft, in place of the one there is. */
    public function begin(PlanDefinition $plan, Person $author): void
    {
        $this->drop();
        $this->keep($plan, $author);
    }

    public function drop(): void
    {
        $draft = $this->drafts->held();
        if ($draft !== null) {
            $this->entities->remove($draft);
            $this->entities->flush();
        }
    }

    /** As the draft has it; without one that can be read, as it is in service. */
    public function plan(): PlanDefinition
    {
        return $this->as($this->drafts->there());
    }

    /** The same, to change it: nobody else does until the transaction is over. */
    private function held(): PlanDefinition
    {
        return $this->as($this->drafts->held());
    }

    private function as(?PlanDraft $draft): PlanDefinition
    {
        return ($draft === null ? null : $this->plans->readable($draft->definition)) ?? $this->inService->plan()->definition;
    }

    private function keep(PlanDefinition $plan, Person $author): void
    {
        $kept = Plans::kept($plan);
        $draft = $this->drafts->held();
        $now = $this->clock->now();
        if ($draft === null) {
            $this->entities->persist(new PlanDraft($kept, $this->revisions->newestNumber(), $author->id(), $now));
        } else {
            $draft->definition = $kept;
            $draft->authorId = $author->id();
            $draft->at = $now;
        }
        $this->entities->flush();
    }

    /**
     * @param array<array-key, mixed>|null $was
     *
     * @throws Problem
     */
    private function holdAsRead(PlanPart $kind, ?NamedDefinition $now, string $name, ?array $was): void
    {
        $now ?? throw new Problem(409, "Somebody removed the {$kind->value} {$name} meanwhile");
        $was ?? throw Problem::field('was', 'was must be what was read');
        if (Plans::kept($this->definitions->read($kind->definition(), $was)) !== Plans::kept($now)) {
            throw new Problem(409, 'Somebody changed this while you had it open', ['now' => $now]);
        }
    }
}

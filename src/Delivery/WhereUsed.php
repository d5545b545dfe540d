<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\ShownUses;
use Olivine\App\Delivery\Definition\UsedKind;
use Olivine\App\Delivery\Definition\WishesDefinition;
use Olivine\App\Delivery\Repository\PlanDraftRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\App\Rule\RuleDefinitions;

/** Where people, teams, roles and channels are named: in the plan, in its draft, and elsewhere. */
final readonly class WhereUsed
{
    public function __construct(
        private PlanInService $inService,
        private PlanDraftRepository $drafted,
        private PlanDrafts $drafts,
        private PersonRepository $people,
        private RuleRepository $rules,
        private RuleDefinitions $ruleDefinitions,
        private Definitions $definitions,
    ) {
    }

    public function of(UsedKind $kind, string $name): ShownUses
    {
        return new ShownUses(
            PlanUses::of($this->inService->plan()->definition, $kind->value, $name),
            $this->drafted->there() === null ? [] : PlanUses::of($this->drafts->plan(), $kind->value, $name),
            match ($kind) {
                UsedKind::Person => $this->ofPerson($name),
                UsedKind::Team => $this->ownedBy([$name]),
                UsedKind::Role => [],
                UsedKind::Channel => $this->wishesFor($name),
            },
        );
    }

    /** @return list<string> */
    private function ofPerson(string $address): array
    {
        $person = $this->people->atAddress($address);
        $turn = $person?->rotaPlace === null ? [] : ["turn {$person->rotaPlace} on call"];

        return [...$turn, ...$this->ownedBy($person === null ? [$address] : [$address, $person->name])];
    }

    /**
     * @param list<string> $names
     *
     * @return list<string>
     */
    private function ownedBy(array $names): array
    {
        $words = [];
        foreach ($this->rules->byName() as $rule) {
            if (in_array($this->ruleDefinitions->of($rule->inService)->owner, $names, true)) {
                $words[] = "owner of the rule {$rule->name}";
            }
        }

        return $words;
    }

    /** @return list<string> */
    private function wishesFor(string $channel): array
    {
        $words = [];
        foreach ($this->people->byName() as $person) {
            if (in_array($channel, array_merge(...array_values($this->wishesOf($person)->bySeverity())), true)) {
                $words[] = "how {$person->name} is told";
            }
        }

        return $words;
    }

    /** Wishes that cannot be read any more name nothing. */
    private function wishesOf(Person $person): WishesDefinition
    {
        try {
            return $this->definitions->read(WishesDefinition::class, $person->wishes ?? []);
        } catch (Problem) {
            return new WishesDefinition();
        }
    }
}

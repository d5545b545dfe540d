<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\ShownUses;
use Olivine\App\Delivery\Definition\UsedKind;
use Olivine\App\Delivery\Definition\WishesDefinition;
use Olivine\App\Delivery\Repository\PlanDraftRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\App\Roster\KeptRosters;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\App\Rule\RuleDefinitions;
use Olivine\Core\Roster\Shift;
use Olivine\Core\Time\Duration;

/** Where people, teams, roles and channels are named: in the plan, in its draft, and elsewhere. */
final readonly class WhereUsed
{
    private const SHIFT_DAYS = 14;

    public function __construct(
        private PlanInService $inService,
        private PlanDraftRepository $drafted,
        private PlanDrafts $drafts,
        private PersonRepository $people,
        private RuleRepository $rules,
        private RuleDefinitions $ruleDefinitions,
        private Definitions $definitions,
        private KeptRosters $rosters,
        private Settings $settings,
        private Clock $clock = new Clock(),
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
                UsedKind::Role, UsedKind::Roster => [],
                UsedKind::Channel => $this->wishesFor($name),
            },
        );
    }

    /** @return list<string> */
    private function ofPerson(string $address): array
    {
        $person = $this->people->atAddress($address);
        return [...$this->onRosters($address), ...$this->ownedBy($person === null ? [$address] : [$address, $person->name])];
    }

    /** @return list<string> as they are set up to go on */
    private function onRosters(string $address): array
    {
        $words = [];
        foreach ($this->rosters->newest() as $roster => $definition) {
            foreach ($definition->rotations as $rotation) {
                if (in_array($address, $rotation->people, true)) {
                    $words[] = "rotation {$rotation->name} of the roster {$roster}";
                }
            }
        }
        $person = $this->people->atAddress($address);
        $open = $person === null ? [] : $this->fallingOpen($person->id());

        return [...$words, ...$open];
    }

    /** @return list<string> the shifts that would be nobody's */
    private function fallingOpen(int $person): array
    {
        $now = $this->clock->now();
        $rosters = $this->rosters->since($now);
        $words = [];
        foreach ($rosters->names() as $name) {
            $shifts = $rosters->named($name)?->shifts($now, $now->plus(Duration::ofDays(self::SHIFT_DAYS))) ?? [];
            $own = array_values(array_filter($shifts, static fn(Shift $one): bool => $one->person === $person));
            if ($own !== []) {
                $first = $own[0]->from->in($this->settings->zone())->format('D j M H:i');
                $words[] = sprintf('%d shifts of the roster %s in the next two weeks, the first %s', count($own), $name, $first);
            }
        }

        return $words;
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

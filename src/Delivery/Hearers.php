<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Definition\TeamDefinition;
use Olivine\App\Delivery\Definition\WishesDefinition;
use Olivine\App\Delivery\Repository\ContactMethodRepository;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\Core\Delivery\People;
use Olivine\Core\Delivery\Wishes;

/** Those who may be told, by what a plan calls them by, and how each of them wants to be. */
final readonly class Hearers
{
    public function __construct(
        private PersonRepository $people,
        private ContactMethodRepository $contacts,
        private Definitions $definitions,
        private Settings $settings,
    ) {
    }

    /** @param list<TeamDefinition> $teams */
    public function now(array $teams): People
    {
        $byAddress = $byRole = $byName = $wishes = [];
        foreach ($this->people->whoMayAct() as $person) {
            $byAddress[$person['email']] = $person['id'];
            $byRole[$person['role']->value][] = $person['id'];
            $byName[$person['name']] = $person['id'];
            if ($person['wishes'] !== null) {
                $wishes[$person['id']] = $this->wishesOf($person['wishes']);
            }
        }
        $byTeam = [];
        foreach ($teams as $team) {
            $byTeam[$team->name] = array_values(array_intersect_key($byAddress, array_flip($team->people)));
        }

        return new People($byAddress, $byRole, $byTeam, $byName, $wishes, $this->contacts->verified());
    }

    /**
     * Wishes that cannot be read any more keep nobody from being told.
     *
     * @param array<string, mixed> $kept
     */
    private function wishesOf(array $kept): Wishes
    {
        try {
            return $this->definitions->read(WishesDefinition::class, $kept)->core($this->settings->holidays());
        } catch (Problem) {
            return new Wishes();
        }
    }
}

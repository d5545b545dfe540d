<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Answer\ShownWishes;
use Olivine\App\Delivery\Channel\Channels;
use Olivine\App\Delivery\Definition\WishesDefinition;
use Olivine\App\Delivery\Definition\WishesFields;
use Olivine\App\Delivery\Repository\ContactMethodRepository;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** How one wants to be told, where a rung leaves it to oneself. */
#[IsGranted('ROLE_VIEWER')]
final readonly class WishesApi
{
    public function __construct(
        private EntityManagerInterface $entities,
        private PersonRepository $people,
        private Definitions $definitions,
        private Channels $channels,
        private ContactMethodRepository $contacts,
        private PlanInService $plan,
        private Settings $settings,
        private Audit $audit,
    ) {
    }

    #[Route('/api/session/wishes', methods: ['GET'])]
    public function wishes(#[CurrentUser] Person $self): JsonResponse
    {
        return new JsonResponse($this->shown($self));
    }

    /** @throws Problem 409 where they were changed elsewhere meanwhile; 422 naming the field */
    #[Route('/api/session/wishes', methods: ['PUT'])]
    #[AsAWhole]
    public function change(#[Body] WishesFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $person = $this->people->there($self->id());
        $before = $this->of($person);
        $was = $this->definitions->read(WishesDefinition::class, $fields->was ?? []);
        if (self::kept($was) !== self::kept($before)) {
            throw new Problem(409, 'Somebody changed this while you had it open', ['now' => $before]);
        }
        $wishes = $fields->definition;
        $wishes->core($this->settings->holidays());
        foreach ($wishes->bySeverity() as $severity => $ways) {
            $unknown = array_values(array_diff($ways, $this->ways($person)));
            if ($unknown !== []) {
                throw Problem::field($severity, "{$severity}: there is no channel {$unknown[0]}");
            }
        }
        $person->wishes = self::kept($wishes);
        $this->entities->flush();
        $this->audit->record('changed', "how {$person->email} is told", $before, $wishes);

        return new JsonResponse($this->shown($person));
    }

    private function shown(Person $person): ShownWishes
    {
        $plan = $this->plan->plan()->definition;

        return new ShownWishes(
            $this->of($person),
            $this->ways($person),
            PlanUses::of($plan, 'person', $person->email),
            $this->settings->zone()->getName(),
        );
    }

    /** @return list<string> that all have, and those of one's own that were found to work */
    private function ways(Person $person): array
    {
        return [...$this->channels->ways(), ...($this->contacts->verified()[$person->id()] ?? [])];
    }

    private function of(Person $person): WishesDefinition
    {
        try {
            return $this->definitions->read(WishesDefinition::class, $person->wishes ?? []);
        } catch (Problem) {
            return new WishesDefinition();
        }
    }

    /** @return array<string, mixed> */
    private static function kept(WishesDefinition $wishes): array
    {
        /** @var array<string, mixed> */
        return json_decode(json_encode($wishes, JSON_THROW_ON_ERROR), true, 16, JSON_THROW_ON_ERROR);
    }
}

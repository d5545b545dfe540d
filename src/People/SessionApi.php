<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Olivine\App\People\Answer\Person as ShownPerson;
use Olivine\App\People\Answer\Session;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Settings;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** Who is signed in, and in which zone the site is. */
final readonly class SessionApi
{
    public function __construct(private Settings $settings)
    {
    }

    #[Route('/api/session', methods: ['GET'])]
    public function session(#[CurrentUser] ?Person $person): JsonResponse
    {
        $shown = $person === null ? null : self::shown($person);

        return new JsonResponse(new Session(person: $shown, zone: $this->settings->zone()->getName()));
    }

    public static function shown(Person $person): ShownPerson
    {
        return new ShownPerson(id: $person->id(), name: $person->name, email: $person->email, role: $person->role);
    }
}

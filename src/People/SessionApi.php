<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Settings;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

final readonly class SessionApi
{
    public function __construct(private Settings $settings)
    {
    }

    #[Route('/api/session', methods: ['GET'])]
    public function session(#[CurrentUser] ?Person $person): JsonResponse
    {
        return new JsonResponse([
            'person' => $person === null ? null : self::shown($person),
            'zone' => $this->settings->zone()->getName(),
        ]);
    }

    /** @return array{id: int, name: string, email: string, role: string} */
    public static function shown(Person $person): array
    {
        return ['id' => $person->id(), 'name' => $person->name, 'email' => $person->email, 'role' => $person->role->value];
    }
}

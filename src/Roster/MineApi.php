<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\Definition\CalendarFields;
use Olivine\App\Roster\Definition\HandoverFields;
use Olivine\App\Roster\Definition\LinkFields;
use Olivine\App\Roster\Repository\RosterRepository;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Coverage, handover, one's own shifts, and calendars out and in. */
final readonly class MineApi
{
    public function __construct(
        private MineView $mine,
        private CoverageView $coverage,
        private Handovers $handovers,
        private Subscriptions $subscriptions,
        private RosterRepository $rosters,
    ) {
    }

    #[Route('/api/on-call/mine', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function mine(#[CurrentUser] Person $self): JsonResponse
    {
        return new JsonResponse($this->mine->of($self));
    }

    #[Route('/api/coverage', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function coverage(): JsonResponse
    {
        return new JsonResponse($this->coverage->page());
    }

    /** @throws Problem 404 */
    #[Route('/api/rosters/{id<\d{1,9}>}/handover', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function handover(int $id): JsonResponse
    {
        return new JsonResponse($this->handovers->shown($this->rosters->there($id)));
    }

    /** @throws Problem 404, 409 */
    #[Route('/api/rosters/{id<\d{1,9}>}/handover', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function write(int $id, #[Body] HandoverFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $roster = $this->rosters->there($id);
        $this->handovers->write($roster, $fields, $self);

        return new JsonResponse($this->handovers->shown($roster));
    }

    /** @throws Problem 404, 409 */
    #[Route('/api/calendar-links', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_VIEWER')]
    public function subscribe(#[Body] LinkFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        return new JsonResponse($this->subscriptions->subscribe($fields->roster, $self), 201);
    }

    /** @throws Problem 404 */
    #[Route('/api/calendar-links/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    #[IsGranted('ROLE_VIEWER')]
    public function end(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        $this->subscriptions->end($id, $self);

        return new JsonResponse(null, 204);
    }

    /** @throws Problem 403; 422 naming the field */
    #[Route('/api/absence-calendars', methods: ['POST'])]
    #[IsGranted('ROLE_VIEWER')]
    public function add(#[Body] CalendarFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        return new JsonResponse($this->subscriptions->add($fields, $self), 201);
    }

    /** @throws Problem 403, 404, 409 */
    #[Route('/api/absence-calendars/{id<\d{1,9}>}/read', methods: ['POST'])]
    #[IsGranted('ROLE_VIEWER')]
    public function readAgain(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        return new JsonResponse($this->subscriptions->readAgain($id, $self));
    }

    /** @throws Problem 403, 404 */
    #[Route('/api/absence-calendars/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    #[IsGranted('ROLE_VIEWER')]
    public function remove(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        $this->subscriptions->remove($id, $self);

        return new JsonResponse(null, 204);
    }

    /** Whoever knows the address reads it, until it is ended. */
    #[Route('/calendar/{token}.ics', requirements: ['token' => '[A-Za-z0-9_-]{20,64}'], methods: ['GET'])]
    public function calendar(#[\SensitiveParameter] string $token): Response
    {
        $calendar = $this->subscriptions->calendar($token);

        return $calendar === null
            ? new Response("There is no calendar at this address any more.\n", 404, ['Content-Type' => 'text/plain; charset=utf-8'])
            : new Response($calendar, 200, [
                'Content-Type' => 'text/calendar; charset=utf-8',
                'Cache-Control' => 'private, no-store',
                'Referrer-Policy' => 'no-referrer',
            ]);
    }
}

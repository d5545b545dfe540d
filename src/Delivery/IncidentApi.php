<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Input;
use Olivine\App\Platform\Problem;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

#[IsGranted('ROLE_VIEWER')]
final readonly class IncidentApi
{
    public function __construct(
        private EntityManagerInterface $entities,
        private IncidentActions $actions,
        private IncidentView $view,
        private SharedLook $shared,
    ) {
    }

    #[Route('/api/incidents/{id<\d{1,9}>}', methods: ['GET'])]
    public function one(int $id): JsonResponse
    {
        return JsonResponse::fromJsonString(
            $this->shared->of("incident.{$id}", fn(): array => $this->view->detail($this->find($id))),
        );
    }

    #[Route('/api/incidents/{id<\d{1,9}>}/acknowledge', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function acknowledge(int $id, #[CurrentUser] Person $person): JsonResponse
    {
        $this->actions->acknowledge($this->find($id), $person);

        return $this->one($id);
    }

    #[Route('/api/incidents/{id<\d{1,9}>}/hand-back', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function handBack(int $id, #[CurrentUser] Person $person): JsonResponse
    {
        $this->actions->handBack($this->find($id), $person);

        return $this->one($id);
    }

    #[Route('/api/incidents/{id<\d{1,9}>}/resolve', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function resolve(int $id, #[CurrentUser] Person $person): JsonResponse
    {
        $this->actions->resolve($this->find($id), $person);

        return $this->one($id);
    }

    #[Route('/api/incidents/{id<\d{1,9}>}/notes', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function note(int $id, Request $request, #[CurrentUser] Person $person): JsonResponse
    {
        $this->actions->note($this->find($id), $person, Input::of($request)->text('note', 1_000, shortest: 1));

        return $this->one($id);
    }

    private function find(int $id): Incident
    {
        return $this->entities->find(Incident::class, $id) ?? throw new Problem(404, "There is no incident {$id}");
    }
}

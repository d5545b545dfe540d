<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Definition\AcknowledgeFields;
use Olivine\App\Delivery\Definition\NoteFields;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

#[IsGranted('ROLE_VIEWER')]
final readonly class IncidentApi
{
    public function __construct(
        private IncidentRepository $incidents,
        private IncidentActions $actions,
        private IncidentView $view,
        private SharedLook $shared,
    ) {
    }

    #[Route('/api/incidents/{id<\d{1,9}>}', methods: ['GET'])]
    public function one(int $id): JsonResponse
    {
        return JsonResponse::fromJsonString(
            $this->shared->of("incident.{$id}", fn(): object => $this->view->detail($this->incidents->there($id))),
        );
    }

    #[Route('/api/incidents/{id<\d{1,9}>}/acknowledge', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function acknowledge(int $id, #[Body] AcknowledgeFields $fields, #[CurrentUser] Person $person): JsonResponse
    {
        $this->actions->acknowledge($this->incidents->there($id), $person, $fields);

        return $this->one($id);
    }

    #[Route('/api/incidents/{id<\d{1,9}>}/hand-back', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function handBack(int $id, #[CurrentUser] Person $person): JsonResponse
    {
        $this->actions->handBack($this->incidents->there($id), $person);

        return $this->one($id);
    }

    #[Route('/api/incidents/{id<\d{1,9}>}/resolve', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function resolve(int $id, #[CurrentUser] Person $person): JsonResponse
    {
        $this->actions->resolve($this->incidents->there($id), $person);

        return $this->one($id);
    }

    #[Route('/api/incidents/{id<\d{1,9}>}/notes', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function note(int $id, #[Body] NoteFields $fields, #[CurrentUser] Person $person): JsonResponse
    {
        $this->actions->note($this->incidents->there($id), $person, $fields->note);

        return $this->one($id);
    }
}

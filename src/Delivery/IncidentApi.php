<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Definition\AcknowledgeFields;
use Olivine\App\Delivery\Definition\AssignFields;
use Olivine\App\Delivery\Definition\MergeFields;
use Olivine\App\Delivery\Definition\NoteFields;
use Olivine\App\Delivery\Definition\SplitFields;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\Core\Rule\Severity;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

#[IsGranted('ROLE_VIEWER')]
final readonly class IncidentApi
{
    private const LONGEST_WORDS = 200;

    public function __construct(
        private IncidentRepository $incidents,
        private IncidentActions $actions,
        private IncidentSurgery $surgery,
        private PersonRepository $people,
        private IncidentView $view,
        private SharedLook $shared,
        private PastIncidents $past,
    ) {
    }

    #[Route('/api/incidents', methods: ['GET'])]
    public function all(Request $request): JsonResponse
    {
        $asked = $request->query;

        return new JsonResponse($this->past->page(
            mb_substr($asked->getString('words'), 0, self::LONGEST_WORDS),
            Severity::tryFrom($asked->getString('severity')),
            $asked->has('before') ? $asked->getInt('before') : null,
        ));
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

    /** @throws Problem 404; 409 where it is over by now */
    #[Route('/api/incidents/{id<\d{1,9}>}/cannot', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function cannot(int $id, #[CurrentUser] Person $person): JsonResponse
    {
        $this->actions->cannot($this->incidents->there($id), $person);

        return $this->one($id);
    }

    /** @throws Problem 404; 409 where it is over by now; 422 where they may not act */
    #[Route('/api/incidents/{id<\d{1,9}>}/assign', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function assign(int $id, #[Body] AssignFields $fields, #[CurrentUser] Person $person): JsonResponse
    {
        $this->actions->assign($this->incidents->there($id), $this->people->there($fields->person), $person, $fields);

        return $this->one($id);
    }

    /** @throws Problem 404; 409 where one of them is over by now */
    #[Route('/api/incidents/{id<\d{1,9}>}/merge', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function merge(int $id, #[Body] MergeFields $fields, #[CurrentUser] Person $person): JsonResponse
    {
        $this->surgery->merge($this->incidents->there($id), $this->incidents->there($fields->into), $person);

        return $this->one($fields->into);
    }

    /** @throws Problem 404; 409 where it is over by now; 422 where these are not some of its alerts */
    #[Route('/api/incidents/{id<\d{1,9}>}/split', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function split(int $id, #[Body] SplitFields $fields, #[CurrentUser] Person $person): JsonResponse
    {
        return $this->one($this->surgery->split($this->incidents->there($id), $fields->alerts, $person));
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

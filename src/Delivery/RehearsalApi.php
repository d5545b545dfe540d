<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Definition\RehearsalFields;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Repository\RuleRepository;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Rehearsals: asked for, agreed to, begun, ended, and how they went. */
#[IsGranted('ROLE_VIEWER')]
final readonly class RehearsalApi
{
    public function __construct(private Rehearsals $rehearsals, private RehearsalView $view, private RuleRepository $rules)
    {
    }

    #[Route('/api/rehearsals', methods: ['GET'])]
    public function page(#[CurrentUser] Person $self): JsonResponse
    {
        return new JsonResponse($this->view->page($self));
    }

    /** @throws Problem 404, 409, 422, 429 */
    #[Route('/api/rules/{id<\d{1,9}>}/rehearsal', methods: ['GET'])]
    public function choices(int $id): JsonResponse
    {
        return new JsonResponse($this->view->choices($this->rules->find($id) ?? throw new Problem(404, "There is no rule {$id}")));
    }

    /** @throws Problem naming the field */
    #[Route('/api/rehearsals', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function ask(#[Body] RehearsalFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        return new JsonResponse($this->view->shown($this->rehearsals->ask($fields, $self), $self), 201);
    }

    /** @throws Problem 403, 404, 409 */
    #[Route('/api/rehearsals/{id<\d{1,9}>}/agree', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function agree(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        $this->rehearsals->agree($id, $self);

        return $this->page($self);
    }

    /** @throws Problem 404, 409 */
    #[Route('/api/rehearsals/{id<\d{1,9}>}/begin', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function begin(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        $this->rehearsals->begin($id, $self);

        return $this->page($self);
    }

    /** @throws Problem 404, 409 */
    #[Route('/api/rehearsals/{id<\d{1,9}>}/end', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function end(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        $this->rehearsals->end($id, $self);

        return $this->page($self);
    }
}

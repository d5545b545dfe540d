<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Definition\UsedKind;
use Olivine\App\Delivery\Definition\UseFields;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Where people, teams, roles and channels are used, and how to take one out everywhere. */
#[IsGranted('ROLE_VIEWER')]
final readonly class UsesApi
{
    public function __construct(
        private WhereUsed $used,
        private PlanDrafts $drafts,
        private PlanView $view,
    ) {
    }

    /** @throws Problem naming the field */
    #[Route('/api/plan/uses', methods: ['GET'])]
    public function uses(Request $request): JsonResponse
    {
        $kind = UsedKind::tryFrom($request->query->getString('kind')) ?? throw Problem::field('kind', 'kind must be person, team, role, channel or roster');

        return new JsonResponse($this->used->of($kind, $request->query->getString('name')));
    }

    /** @throws Problem 422 where a ladder would have nobody left */
    #[Route('/api/plan/draft/without', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function without(#[Body] UseFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $this->drafts->takeOut($fields->kind->value, $fields->name, $self);

        return new JsonResponse($this->view->page());
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Definition\DraftFields;
use Olivine\App\Rule\Repository\RuleDraftRepository;
use Olivine\App\Rule\Repository\RuleRepository;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Rules on the way, kept so that nothing is lost of them; what is in service does not change by them. */
#[IsGranted('ROLE_ENGINEER')]
final readonly class RuleDraftApi
{
    public function __construct(private RuleDraftRepository $drafts, private RuleRepository $rules, private RuleDrafts $view)
    {
    }

    #[Route('/api/rule-drafts', methods: ['GET'])]
    public function drafts(): JsonResponse
    {
        return new JsonResponse($this->view->ofNewRules());
    }

    /** @throws Problem 404 */
    #[Route('/api/rule-drafts/{id<\d{1,9}>}', methods: ['GET'])]
    public function draft(int $id): JsonResponse
    {
        return new JsonResponse($this->view->shown($this->drafts->there($id)));
    }

    /** @throws Problem 404, 409 */
    #[Route('/api/rule-drafts', methods: ['POST'])]
    #[AsAWhole]
    public function begin(#[Body] DraftFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        if ($fields->rule !== null) {
            $this->rules->there($fields->rule);
        }

        return new JsonResponse($this->view->begin($fields, $self), 201);
    }

    /** @throws Problem 404, 409 */
    #[Route('/api/rule-drafts/{id<\d{1,9}>}', methods: ['PUT'])]
    #[AsAWhole]
    public function change(int $id, #[Body] DraftFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        return new JsonResponse($this->view->change($this->drafts->there($id), $fields, $self));
    }

    /** @throws Problem 404 */
    #[Route('/api/rule-drafts/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    public function drop(int $id): JsonResponse
    {
        $this->view->drop($this->drafts->there($id));

        return new JsonResponse(null, 204);
    }
}

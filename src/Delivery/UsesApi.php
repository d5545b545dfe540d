<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\ShownUses;
use Olivine\App\Delivery\Definition\UsedKind;
use Olivine\App\Delivery\Definition\UseFields;
use Olivine\App\Delivery\Repository\PlanDraftRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\App\Rule\RuleDefinitions;
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
        private PlanInService $inService,
        private PlanDraftRepository $drafted,
        private PlanDrafts $drafts,
        private PlanView $view,
        private PersonRepository $people,
        private RuleRepository $rules,
        private RuleDefinitions $definitions,
    ) {
    }

    /** @throws Problem naming the field */
    #[Route('/api/plan/uses', methods: ['GET'])]
    public function uses(Request $request): JsonResponse
    {
        $kind = UsedKind::tryFrom($request->query->getString('kind')) ?? throw Problem::field('kind', 'kind must be person, team, role or channel');
        $name = $request->query->getString('name');

        return new JsonResponse(new ShownUses(
            PlanUses::of($this->inService->plan()->definition, $kind->value, $name),
            $this->drafted->there() === null ? [] : PlanUses::of($this->drafts->plan(), $kind->value, $name),
            $this->beside($kind, $name),
        ));
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

    /** @return list<string> */
    private function beside(UsedKind $kind, string $name): array
    {
        $person = $kind === UsedKind::Person ? $this->people->atAddress($name) : null;
        $words = $person?->rotaPlace === null ? [] : ["turn {$person->rotaPlace} on call"];
        $owners = $person === null ? [$name] : [$name, $person->name];
        foreach ($kind === UsedKind::Person || $kind === UsedKind::Team ? $this->rules->byName() : [] as $rule) {
            if (in_array($this->definitions->of($rule->inService)->owner, $owners, true)) {
                $words[] = "owner of the rule {$rule->name}";
            }
        }

        return $words;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Answer\Changed;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Versions;
use Olivine\App\Rule\Definition\ManyRulesFields;
use Olivine\App\Rule\Definition\MarkFields;
use Olivine\App\Rule\Definition\RuleFields;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\Repository\RuleDraftRepository;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Rule\BadRule;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** The rules: listed, written, changed, marked and removed. */
#[IsGranted('ROLE_VIEWER')]
final readonly class RuleApi
{
    public function __construct(
        private RuleRepository $rules,
        private RuleView $view,
        private RuleForm $form,
        private RuleRevisions $revisions,
        private RuleRemoval $removal,
        private RuleMarks $marks,
        private RuleDrafts $drafts,
        private RuleDraftRepository $draftRepository,
        private EntityManagerInterface $entities,
        private Audit $audit,
    ) {
    }

    #[Route('/api/rules', methods: ['GET'])]
    public function rules(): JsonResponse
    {
        return new JsonResponse($this->view->rows());
    }

    #[Route('/api/rules/{id<\d{1,9}>}', methods: ['GET'])]
    public function rule(int $id): JsonResponse
    {
        return new JsonResponse($this->view->one($this->rules->there($id)));
    }

    /** @throws Problem 404 */
    #[Route('/api/rules/{id<\d{1,9}>}/revisions', methods: ['GET'])]
    public function revisions(int $id): JsonResponse
    {
        return new JsonResponse($this->view->revisions($this->rules->there($id)));
    }

    /**
     * @throws FormulaError where the formula cannot be read or worked out
     * @throws BadRule      naming the field that cannot be so
     */
    #[Route('/api/rules', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function add(#[Body] RuleFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $this->form->check($fields->definition, null);
        $rule = $this->revisions->begin($fields->definition, $fields->enabled, $self, $fields->reason);
        $shown = $this->view->shown($rule);
        $this->audit->record('added', "rule {$rule->name}", null, $shown);

        return new JsonResponse($shown, 201);
    }

    /**
     * @throws FormulaError where the formula cannot be read or worked out
     * @throws BadRule      naming the field that cannot be so
     */
    #[Route('/api/rules/{id<\d{1,9}>}', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function change(int $id, #[Body] RuleFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $rule = $this->rules->there($id);
        $before = $this->view->shown($rule);
        Versions::hold($fields->version, $rule->version, $before);
        if ($rule->fileName !== null && !$fields->overFile) {
            throw new Problem(409, "This rule comes from {$rule->fileName}; change it there, or say that it is to be changed here");
        }
        $this->form->check($fields->definition, $rule);
        $rule->enabled = $fields->enabled;
        $this->revisions->change($rule, $fields->definition, $self, $fields->reason);
        $this->drafts->drop($this->draftRepository->ofRule($id));
        $shown = $this->view->shown($rule);
        $this->audit->record('changed', "rule {$rule->name}", $before, $shown);

        return new JsonResponse($shown);
    }

    /** All or none; answers which of them it changed, so that just these can be changed back. */
    #[Route('/api/rules/many', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function many(#[Body] ManyRulesFields $fields): JsonResponse
    {
        $changed = array_values(
            array_filter($this->rules->findBy(['id' => $fields->ids]), static fn(Rule $rule): bool => $rule->enabled !== $fields->enabled),
        );
        foreach ($changed as $rule) {
            $rule->enabled = $fields->enabled;
        }
        $this->entities->flush();
        if ($changed !== []) {
            $this->audit->record(
                $fields->enabled ? 'switched on' : 'switched off',
                sprintf('%d rules', count($changed)),
                null,
                ['rules' => array_map(static fn(Rule $rule): string => $rule->name, $changed)],
            );
        }

        return new JsonResponse(new Changed(array_map(static fn(Rule $rule): int => $rule->id(), $changed)));
    }

    #[Route('/api/rules/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function remove(int $id): JsonResponse
    {
        $this->removal->remove($this->rules->there($id));

        return new JsonResponse(null, 204);
    }

    /** @throws Problem 404 */
    #[Route('/api/rules/{id<\d{1,9}>}/draft', methods: ['GET'])]
    public function draft(int $id): JsonResponse
    {
        return JsonResponse::fromJsonString(json_encode($this->drafts->ofRule($this->rules->there($id)->id()), JSON_THROW_ON_ERROR));
    }

    /** @throws Problem 404 */
    #[Route('/api/rules/{id<\d{1,9}>}/marks', methods: ['GET'])]
    public function marks(int $id): JsonResponse
    {
        return new JsonResponse($this->marks->shown($this->rules->there($id)));
    }

    /** @throws Problem 404 */
    #[Route('/api/rules/{id<\d{1,9}>}/marks', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function mark(int $id, #[Body] MarkFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $rule = $this->rules->there($id);
        $this->marks->say($rule, $fields, $self);

        return new JsonResponse($this->marks->shown($rule));
    }
}

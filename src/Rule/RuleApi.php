<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Delivery\MessagePreview;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Versions;
use Olivine\App\Rule\Definition\AdviceFields;
use Olivine\App\Rule\Definition\MarkFields;
use Olivine\App\Rule\Definition\MessageFields;
use Olivine\App\Rule\Definition\ProposalFields;
use Olivine\App\Rule\Definition\ReplayFields;
use Olivine\App\Rule\Definition\RuleFields;
use Olivine\App\Rule\Definition\SweepFields;
use Olivine\App\Rule\Repository\RuleDraftRepository;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\BadRule;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** The rules: listed, written, changed, replayed before they are in service. */
#[IsGranted('ROLE_VIEWER')]
final readonly class RuleApi
{
    public function __construct(
        private RuleRepository $rules,
        private RuleView $view,
        private RuleForm $form,
        private RuleRevisions $revisions,
        private RuleDefinitions $definitions,
        private Replays $replays,
        private Sweeps $sweeps,
        private BaselineAdvisor $advisor,
        private MessagePreview $message,
        private Clearing $clearing,
        private Starters $starters,
        private RuleStarts $starts,
        private RuleRemoval $removal,
        private RuleMarks $marks,
        private Proposals $proposals,
        private RuleDrafts $drafts,
        private RuleDraftRepository $draftRepository,
        private Audit $audit,
    ) {
    }

    #[Route('/api/rules', methods: ['GET'])]
    public function rules(): JsonResponse
    {
        return new JsonResponse($this->view->rows());
    }

    /** @throws Problem where too much is under way already */
    #[Route('/api/rules/starters', methods: ['GET'])]
    public function starters(): JsonResponse
    {
        return new JsonResponse($this->starters->all());
    }

    /** @throws Problem where too much is under way already */
    #[Route('/api/rules/starts', methods: ['GET'])]
    public function starts(): JsonResponse
    {
        return new JsonResponse($this->starts->all());
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

    #[Route('/api/rules/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function remove(int $id): JsonResponse
    {
        $this->removal->remove($this->rules->there($id));

        return new JsonResponse(null, 204);
    }

    /**
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws BadRule       naming the field that cannot be so
     */
    #[Route('/api/rules/replay', methods: ['POST'])]
    public function replay(#[Body] ReplayFields $fields): JsonResponse
    {
        $this->form->checkCondition($fields->definition);

        $inService = $fields->against === null ? null : $this->rules->there($fields->against)->inService;

        return new JsonResponse(
            $this->replays->of(
                $fields->definition,
                $fields->hours,
                $inService === null ? null : $this->definitions->of($inService),
            ),
        );
    }

    /**
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws BadRule       naming the field that cannot be so
     */
    #[Route('/api/rules/sweep', methods: ['POST'])]
    public function sweep(#[Body] SweepFields $fields): JsonResponse
    {
        $this->form->checkCondition($fields->definition);

        return new JsonResponse($this->sweeps->of($fields->definition, $fields->setting, $fields->hours));
    }

    /**
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    #[Route('/api/rules/advice', methods: ['POST'])]
    public function advice(#[Body] AdviceFields $fields): JsonResponse
    {
        return new JsonResponse($this->advisor->of($fields->formula));
    }

    /**
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws BadRule       naming the field that cannot be so
     */
    #[Route('/api/rules/message', methods: ['POST'])]
    public function message(#[Body] MessageFields $fields): JsonResponse
    {
        $this->form->checkCondition($fields->definition);

        return new JsonResponse($this->message->of($fields->definition));
    }

    /**
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws BadRule       naming the field that cannot be so
     * @throws Problem       404
     */
    #[Route('/api/rules/{id<\d{1,9}>}/clearing', methods: ['GET'])]
    public function clearing(int $id): JsonResponse
    {
        return new JsonResponse($this->clearing->of($this->rules->there($id)));
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

    /**
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws BadRule       naming the field that cannot be so
     */
    #[Route('/api/rules/{id<\d{1,9}>}/proposal', methods: ['POST'])]
    public function proposal(int $id, #[Body] ProposalFields $fields): JsonResponse
    {
        $this->form->checkCondition($fields->definition);

        return new JsonResponse($this->proposals->of($this->rules->there($id), $fields->definition, $fields->hours));
    }
}

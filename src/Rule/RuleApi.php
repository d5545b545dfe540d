<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\People\Audit;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Versions;
use Olivine\App\Rule\Definition\RuleFields;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\BadRule;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** The rules: listed, written, changed, replayed before they are in service. */
#[IsGranted('ROLE_VIEWER')]
final readonly class RuleApi
{
    private const REPLAYED_HOURS = 168;

    public function __construct(
        private EntityManagerInterface $entities,
        private RuleRepository $rules,
        private RuleView $view,
        private RuleForm $form,
        private Replays $replays,
        private AlertStates $alerts,
        private RuleProblems $problems,
        private IncidentAlertRepository $raised,
        private Audit $audit,
        private Clock $clock = new Clock(),
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

    /**
     * @throws FormulaError where the formula cannot be read or worked out
     * @throws BadRule      naming the field that cannot be so
     */
    #[Route('/api/rules', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function add(#[Body] RuleFields $fields): JsonResponse
    {
        $rule = new Rule();
        $rule->createdAt = $this->clock->now();
        $this->form->fill($rule, $fields);
        $this->entities->persist($rule);
        $this->entities->flush();
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
    public function change(int $id, #[Body] RuleFields $fields): JsonResponse
    {
        $rule = $this->rules->there($id);
        $before = $this->view->shown($rule);
        Versions::hold($fields->version, $rule->version, $before);
        $this->form->fill($rule, $fields);
        $this->entities->flush();
        $shown = $this->view->shown($rule);
        $this->audit->record('changed', "rule {$rule->name}", $before, $shown);

        return new JsonResponse($shown);
    }

    #[Route('/api/rules/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function remove(int $id): JsonResponse
    {
        $rule = $this->rules->there($id);
        if ($this->raised->countRaisedBy($id) > 0) {
            throw new Problem(409, 'This rule has alerts in an open incident; resolve that first, or switch the rule off');
        }
        $before = $this->view->shown($rule);
        $this->alerts->drop($id);
        $this->problems->drop($id);
        $this->entities->remove($rule);
        $this->entities->flush();
        $this->audit->record('removed', "rule {$before->name}", $before, null);

        return new JsonResponse(null, 204);
    }

    /**
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws BadRule       naming the field that cannot be so
     */
    #[Route('/api/rules/replay', methods: ['POST'])]
    public function replay(#[Body] RuleFields $fields): JsonResponse
    {
        $rule = new Rule();
        $this->form->fillCondition($rule, $fields);

        return new JsonResponse($this->replays->of($rule, $fields->hours ?? self::REPLAYED_HOURS));
    }
}

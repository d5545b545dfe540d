<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Delivery\MessagePreview;
use Olivine\App\Platform\ApiErrors;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\FewAnswers;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Definition\AdviceFields;
use Olivine\App\Rule\Definition\MessageFields;
use Olivine\App\Rule\Definition\ProposalFields;
use Olivine\App\Rule\Definition\ReplayFields;
use Olivine\App\Rule\Definition\SweepFields;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\BadRule;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\StreamedResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** What one wants to know of a rule before it is in service, and beside it. */
#[IsGranted('ROLE_VIEWER')]
final readonly class RuleBenchApi
{
    private const LONG_SECONDS = 330;
    /** All who look at an incident ask the same. */
    private const CLEARING_KEPT_MS = 15_000;

    public function __construct(
        private RuleRepository $rules,
        private RuleForm $form,
        private RuleDefinitions $definitions,
        private Replays $replays,
        private Sweeps $sweeps,
        private BaselineAdvisor $advisor,
        private MessagePreview $message,
        private Clearing $clearing,
        private FewAnswers $few,
        private RuleStarts $starts,
        private Proposals $proposals,
    ) {
    }

    /** @throws Problem where too much is under way already */
    #[Route('/api/rules/starts', methods: ['GET'])]
    public function starts(): JsonResponse
    {
        return new JsonResponse($this->starts->all());
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
     * The same over as long as one likes: a line for each part that is done, and at last one with the replay, or with why there is none.
     *
     * @throws FormulaError where the formula cannot be read or worked out
     * @throws BadRule      naming the field that cannot be so
     */
    #[Route('/api/rules/replay/long', methods: ['POST'])]
    public function longReplay(#[Body] ReplayFields $fields): Response
    {
        $this->form->checkCondition($fields->definition);
        $inService = $fields->against === null ? null : $this->definitions->of($this->rules->there($fields->against)->inService);

        return new StreamedResponse(
            function () use ($fields, $inService): void {
                set_time_limit(self::LONG_SECONDS);
                $say = static function (string $line): void {
                    echo "{$line}\n";
                    flush();
                };
                $progress = static fn(float $share) => $say(json_encode(['share' => round($share, 4)], JSON_THROW_ON_ERROR));
                try {
                    $replay = $this->replays->of($fields->definition, $fields->hours, $inService, $progress(...));
                    $say(json_encode(['replay' => $replay], JSON_THROW_ON_ERROR));
                } catch (FormulaError|TooMuchToRead|BadRule|Problem $error) {
                    $say('{"problem":' . (ApiErrors::told($error)?->getContent() ?: 'null') . '}');
                }
            },
            200,
            ['Content-Type' => 'application/x-ndjson', 'X-Accel-Buffering' => 'no'],
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
        $rule = $this->rules->there($id);
        $answer = fn(): string => json_encode($this->clearing->of($rule), JSON_THROW_ON_ERROR);

        return JsonResponse::fromJsonString($this->few->of('clearing', "{$id} {$rule->inService->id()}", self::CLEARING_KEPT_MS, $answer));
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

<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\People\Audit;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\HeavyWork;
use Olivine\App\Platform\Input;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\App\Platform\Versions;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Store\SeriesIndex;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Line;
use Olivine\Core\Formula\Lines;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Printer;
use Olivine\Core\Formula\Tree;
use Olivine\Core\Rule\Direction;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Rule\Severity;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

#[IsGranted('ROLE_VIEWER')]
final readonly class RuleApi
{
    private const REPLAY_SECONDS = 15.0;
    /** What is told of a rule beside its fields; it may come back with them as it was read, and changes nothing. */
    private const TOLD = ['id', 'unit', 'fault', 'brokenSince', 'phases', 'raisedInWeek'];
    private const FIELDS = [
        'name',
        'formula',
        'severity',
        'direction',
        'limit',
        'holdSeconds',
        'clearLimit',
        'clearHoldSeconds',
        'blindAfterSeconds',
        'blindSeverity',
        'lostAfterSeconds',
        'worseLimit',
        'worseSeverity',
        'service',
        'runbook',
        'enabled',
        'version',
        'hours',
    ];

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $connection,
        private Checker $checker,
        private Evaluator $evaluator,
        private RuleEngine $engine,
        private Audit $audit,
        private SeriesIndex $index,
        private Settings $settings,
        private RuleProblems $problems,
        private SettledReadings $settled,
        private HeavyWork $heavy,
    ) {
    }

    #[Route('/api/rules', methods: ['GET'])]
    public function rules(): JsonResponse
    {
        $phases = [];
        foreach (
            $this->connection->fetchAllAssociative('SELECT rule_id, phase, COUNT(*) AS alerts FROM alert GROUP BY rule_id, phase') as $row
        ) {
            $phases[(int) $row['rule_id']][(string) $row['phase']] = (int) $row['alerts'];
        }
        $raises = $this->connection->fetchAllKeyValue(
            "SELECT rule_id, COUNT(*) FROM transition WHERE to_phase = 'raised' AND from_phase IN ('calm', 'building') AND at > ? GROUP BY rule_id",
            [Clock::nowMs() - 7 * 86_400_000],
        );

        $broken = [];
        foreach ($this->problems->now() as $problem) {
            $broken[$problem->ruleId] = $problem;
        }

        return new JsonResponse(
            array_map(
                fn(Rule $rule): array => self::brokenFirst($this->shown($rule), $broken[$rule->id()] ?? null) + [
                    'phases' => (object) ($phases[$rule->id()] ?? []),
                    'raisedInWeek' => (int) ($raises[$rule->id()] ?? 0),
                ],
                $this->entities->getRepository(Rule::class)->findBy([], ['name' => 'ASC']),
            ),
        );
    }

    #[Route('/api/rules/{id<\d{1,9}>}', methods: ['GET'])]
    public function rule(int $id): JsonResponse
    {
        $problem =
            array_values(array_filter($this->problems->now(), static fn(RuleProblem $one): bool => $one->ruleId === $id))[0] ??
            null;

        return new JsonResponse(self::brokenFirst($this->shown($this->find($id)), $problem));
    }

    #[Route('/api/rules', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function add(Request $request): JsonResponse
    {
        $rule = new Rule();
        $rule->createdAt = Clock::nowMs();
        $this->fill($rule, Input::of($request));
        $this->entities->persist($rule);
        $this->entities->flush();
        $this->audit->record('added', "rule {$rule->name}", null, $this->shown($rule));

        return new JsonResponse($this->shown($rule), 201);
    }

    #[Route('/api/rules/{id<\d{1,9}>}', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function change(int $id, Request $request): JsonResponse
    {
        $rule = $this->find($id);
        $input = Input::of($request);
        $before = $this->shown($rule);
        Versions::hold($input, $rule->version, $before);
        $this->fill($rule, $input);
        $this->entities->flush();
        $this->audit->record('changed', "rule {$rule->name}", $before, $this->shown($rule));

        return new JsonResponse($this->shown($rule));
    }

    #[Route('/api/rules/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function remove(int $id): JsonResponse
    {
        $rule = $this->find($id);
        $up = (int) $this->connection->fetchOne('SELECT COUNT(*) FROM incident_alert WHERE rule_id = ? AND cleared_at IS NULL', [
            $id,
        ]);
        if ($up > 0) {
            throw new Problem(409, 'This rule has alerts in an open incident; resolve that first, or switch the rule off');
        }
        $before = $this->shown($rule);
        foreach (['alert', 'rule_progress', 'rule_problem'] as $table) {
            $this->connection->executeStatement("DELETE FROM {$table} WHERE rule_id = ?", [$id]);
        }
        $this->entities->remove($rule);
        $this->entities->flush();
        $this->audit->record('removed', "rule {$before['name']}", $before, null);

        return new JsonResponse(null, 204);
    }

    /** What the rule as given would have raised over past readings, by the engine that runs live. */
    #[Route('/api/rules/replay', methods: ['POST'])]
    public function replay(Request $request): JsonResponse
    {
        $input = Input::of($request);
        $rule = new Rule();
        $this->fill($rule, $input);
        $hours = $input->whole('hours', 1, 24 * 14, 168);
        $step = $rule->stepSeconds * 1000;
        $tree = Parser::parse($rule->formula);
        $clock = Clock::nowMs();
        // No further than live rules could look by now.
        $now = $this->settled->throughFor($tree, $this->settled->through($clock), $this->settled->later(), $clock);
        $from = $now - $hours * 3_600_000;
        $chartStep = max($step, (int) (ceil(($hours * 3_600_000) / 700 / $step) * $step));
        $first = (intdiv($from, $chartStep) + 1) * $chartStep;
        // All that can be told beforehand is, before anything is read.
        $this->evaluator->refuseLongWork($tree, $from, $now, $step);
        $this->evaluator->load($tree, $now, $now, $step);
        $this->evaluator->load($tree, $first, $now, $chartStep);
        $began = hrtime(true);
        [$outcome, $chart] = $this->heavy->within(
            self::REPLAY_SECONDS,
            fn(): array => [
                $this->engine->run($tree, $rule->threshold(), $step, [], $from, $now - ($now % $step)),
                $this->evaluator->range($tree, $first, $now, $chartStep),
            ],
        );
        $spells = new ReplaySpells();
        foreach ($outcome->transitions as $happened) {
            $spells->take($happened);
        }

        return new JsonResponse([
            'from' => $from,
            'to' => $now,
            'knownFrom' => self::knownFrom($chart, $first, $chartStep),
            'tookMs' => round((hrtime(true) - $began) / 1e6, 1),
            'unit' => $this->checker->unitOf($tree),
            'series' => count($chart->lines),
            'first' => $first,
            'step' => $chartStep,
            'lines' => array_map(
                static fn($line): array => [
                    'labels' => (object) $line->labels->labels,
                    'values' => array_map(
                        static fn(?float $value): ?float => $value === null || !is_finite($value) ? null : round($value, 6),
                        $line->values,
                    ),
                ],
                array_slice($chart->lines, 0, 12),
            ),
            'spells' => $spells->all(),
            'timing' => $this->timing($tree, $rule),
        ]);
    }

    /** @return int|null milliseconds: the first instant that any series has a value at; a replay says nothing about the time before */
    private static function knownFrom(Lines $chart, int $firstMs, int $stepMs): ?int
    {
        $places = array_map(
            static fn(Line $line): ?int => array_find_key($line->values, static fn(?float $value): bool => $value !== null),
            $chart->lines,
        );
        $places = array_filter($places, is_int(...));

        return $places === [] ? null : $firstMs + min($places) * $stepMs;
    }

    /**
     * @return array{intervalMs: int, windowMs: int, stepMs: int, gatherMs: int, sendMs: int|null} what lies between an onset and
     *     the first message, from the targets, the formula, the settings and the mails that went out
     */
    private function timing(Node $tree, Rule $rule): array
    {
        $interval = 0;
        foreach (Tree::selections($tree) as $selection) {
            foreach ($this->index->select($selection) as $series) {
                $interval = max($interval, $series->intervalMs());
            }
        }
        $send = $this->connection->fetchOne(
            "SELECT AVG(sent_at - due_at) FROM (SELECT sent_at, due_at FROM delivery
             WHERE status = 'sent' AND attempts = 1 AND round = 1 AND sent_at - due_at < 60000 ORDER BY id DESC LIMIT 50) AS newest",
        );

        return [
            'intervalMs' => $interval,
            'windowMs' => Tree::longestWindowMs($tree),
            'stepMs' => $rule->stepSeconds * 1000,
            'gatherMs' => $this->settings->gatherSeconds * 1000,
            'sendMs' => $send === null || $send === false ? null : (int) $send,
        ];
    }

    private function fill(Rule $rule, Input $input): void
    {
        $input->onlyKnows(self::FIELDS, self::TOLD);
        $name = $input->line('name', 120, shortest: 1);
        $same = $this->entities->getRepository(Rule::class)->findOneBy(['name' => $name]);
        if ($same !== null && $same->id !== $rule->id && !$input->has('hours')) {
            throw Problem::field('name', "There is a rule named {$name} already");
        }
        $formula = $input->text('formula', 8_000, shortest: 1);
        $this->checker->unitOf(Parser::parse($formula));
        $rule->name = $name;
        $rule->formula = $formula;
        $rule->severity = $input->oneOf('severity', Severity::class);
        $rule->direction = $input->oneOf('direction', Direction::class);
        $rule->limit = $input->number('limit');
        $rule->holdSeconds = $input->whole('holdSeconds', 0, 7 * 86_400);
        $rule->clearLimit = $input->number('clearLimit');
        $rule->clearHoldSeconds = $input->whole('clearHoldSeconds', 0, 7 * 86_400);
        $rule->blindAfterSeconds = $input->whole('blindAfterSeconds', 60, 7 * 86_400, 600);
        $rule->blindSeverity = $input->oneOfOrNull('blindSeverity', Severity::class);
        $rule->lostAfterSeconds = $input->whole('lostAfterSeconds', 120, 30 * 86_400, $rule->lostAfterSeconds);
        $rule->worseLimit = $input->numberOrNull('worseLimit');
        $rule->worseSeverity = $input->oneOfOrNull('worseSeverity', Severity::class);
        $rule->service = $input->line('service', 120, '');
        $runbook = $input->text('runbook', 2_000, '');
        if (preg_match('~^[a-z][a-z0-9+.-]*:~i', $runbook) === 1 && preg_match('~^https?://~i', $runbook) !== 1) {
            throw Problem::field('runbook', 'runbook must be a web address (http or https) or plain words');
        }
        $rule->runbook = $runbook;
        $rule->enabled = $input->yes('enabled', true);
        $rule->threshold();
    }

    /**
     * What cannot be evaluated says why before anything else.
     *
     * @param array<string, mixed> $shown
     *
     * @return array<string, mixed>
     */
    private static function brokenFirst(array $shown, ?RuleProblem $problem): array
    {
        return $problem === null
            ? $shown
            : array_replace($shown, ['fault' => $problem->message, 'brokenSince' => $problem->sinceMs]);
    }

    private function find(int $id): Rule
    {
        return $this->entities->find(Rule::class, $id) ?? throw new Problem(404, "There is no rule {$id}");
    }

    /** @return array<string, mixed> */
    private function shown(Rule $rule): array
    {
        try {
            $tree = Parser::parse($rule->formula);
            $formula = Printer::print($tree);
            $unit = $this->checker->unitOf($tree);
            $fault = null;
        } catch (FormulaError $error) {
            $formula = $rule->formula;
            $unit = '';
            $fault = $error->getMessage();
        }

        return [
            'id' => $rule->id,
            'name' => $rule->name,
            'formula' => $formula,
            'unit' => $unit,
            'fault' => $fault,
            'brokenSince' => null,
            'severity' => $rule->severity->value,
            'direction' => $rule->direction->value,
            'limit' => $rule->limit,
            'holdSeconds' => $rule->holdSeconds,
            'clearLimit' => $rule->clearLimit,
            'clearHoldSeconds' => $rule->clearHoldSeconds,
            'blindAfterSeconds' => $rule->blindAfterSeconds,
            'blindSeverity' => $rule->blindSeverity?->value,
            'lostAfterSeconds' => $rule->lostAfterSeconds,
            'worseLimit' => $rule->worseLimit,
            'worseSeverity' => $rule->worseSeverity?->value,
            'service' => $rule->service,
            'runbook' => $rule->runbook,
            'enabled' => $rule->enabled,
            'version' => $rule->version,
        ];
    }
}

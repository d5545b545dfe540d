<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Rule\Entity\Rule;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Rule\TrackedAlert;

/** Brings every rule up to the newest settled instant, from where it left off. */
final class RuleEvaluator
{
    private const RELOAD_MS = 1_000;
    /** After a standstill a rule goes back over at most this much. */
    private const CATCH_UP_MS = 86_400_000;
    /** A collector that has been silent for this long is gone; the clock decides then. */
    private const COLLECTOR_GONE_MS = 15_000;

    /** @var array<int, Rule> */
    private array $rules = [];
    /** @var array<string, Node> formula → tree */
    private array $trees = [];
    /** @var array<int, array{int, array<string, TrackedAlert>}> rule id → evaluated through, alerts */
    private array $states = [];
    private int $reloadAtMs = 0;
    private float $instants = 0.0;
    private float $late = 0.0;
    private float $failing = 0.0;

    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly Database $database,
        private readonly RuleEngine $engine,
        private readonly AlertStore $alerts,
    ) {
    }

    public function round(): int
    {
        $now = Clock::nowMs();
        if ($now >= $this->reloadAtMs) {
            $this->entities->clear();
            $this->rules = [];
            foreach ($this->entities->getRepository(Rule::class)->findBy(['enabled' => true]) as $rule) {
                $this->rules[$rule->id()] = $rule;
            }
            $this->states = array_intersect_key($this->states, $this->rules);
            $this->reloadAtMs = $now + self::RELOAD_MS;
        }
        $settled = $this->settled($now);
        $this->failing = 0.0;
        foreach ($this->rules as $rule) {
            $this->bringUp($rule, $settled);
        }

        return 100;
    }

    /** Evaluates one rule over a span of history, as live evaluation would have. */
    public function bringUp(Rule $rule, int $settledMs): void
    {
        $id = $rule->id();
        $stepMs = $rule->stepSeconds * 1000;
        $through = $settledMs - $settledMs % $stepMs;
        if (!isset($this->states[$id])) {
            $this->states[$id] = [$this->alerts->through($id) ?? $through - $stepMs, $this->alerts->load($id)];
        }
        [$after, $before] = $this->states[$id];
        if ($through <= $after) {
            return;
        }
        $after = max($after, $through - self::CATCH_UP_MS);
        try {
            $tree = $this->trees[$rule->formula] ??= Parser::parse($rule->formula);
            $outcome = $this->engine->run($tree, $rule->threshold(), $stepMs, $before, $after, $through);
        } catch (FormulaError|TooMuchToRead) {
            ++$this->failing;

            return;
        } catch (\Throwable $error) {
            unset($this->states[$id]);
            throw $error;
        }
        unset($this->states[$id]);
        $this->alerts->save($id, $rule->version, $before, $outcome, $through);
        $this->states[$id] = [$through, $outcome->alerts];
        $this->instants += intdiv($through - $after, $stepMs);
        $this->late = (Clock::nowMs() - $through) / 1000;
    }

    /** Another evaluator is at work: its states are in the database, ours are old. */
    public function forget(): void
    {
        $this->states = [];
    }

    /** @return array<string, float> */
    public function figures(): array
    {
        return [
            'olivine_rules' => (float) count($this->rules),
            'olivine_rules_failing' => $this->failing,
            'olivine_rule_instants_total' => $this->instants,
            'olivine_rule_lateness_seconds' => $this->late,
        ];
    }

    private function settled(int $nowMs): int
    {
        $settled = $this->database->connection->fetchOne('SELECT through_at FROM settled WHERE part = ?', ['collector']);

        return $settled === false || (int) $settled < $nowMs - self::COLLECTOR_GONE_MS ? $nowMs - self::COLLECTOR_GONE_MS : (int) $settled;
    }
}

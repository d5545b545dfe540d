<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\Clock;
use Olivine\App\Platform\HeavyWork;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Answer\ClearingAlert;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Store\StoredReadings;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\GoingOn;
use Olivine\Core\Formula\Narrowing;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\OverTime;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Formula\Tree;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Rule as CoreRule;
use Olivine\Core\Rule\TrackedAlert;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** When what is raised would clear, if from now on all stayed as it was read last: the very engine, run on over such readings. */
final readonly class Clearing
{
    private const SECONDS = 5.0;
    private const AHEAD_MINUTES = 120;
    private const FEW = 10;

    public function __construct(
        private RuleDefinitions $definitions,
        private Transitions $transitions,
        private AlertStates $states,
        private StoredReadings $readings,
        private HeavyWork $heavy,
        private RuleEngines $engines,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @return list<ClearingAlert> of what is raised now
     *
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws BadRule       naming the field that cannot be so
     * @throws Problem       429 where too much is under way already
     */
    public function of(Rule $rule): array
    {
        $raised = array_filter(
            $this->states->load($rule->id()),
            static fn(TrackedAlert $alert): bool => in_array($alert->state->phase, [Phase::Raised, Phase::Easing], true),
        );
        $through = $this->states->progress($rule->id())?->through;
        if ($raised === [] || $through === null) {
            return [];
        }
        $clearAt = $this->heavy->within(self::SECONDS, fn(): array => $this->clearAt($rule, $raised, $through));

        return array_map(
            static fn(string $key, TrackedAlert $alert): ClearingAlert => new ClearingAlert($alert->labels, $clearAt[$key] ?? null),
            array_keys($raised),
            array_values($raised),
        );
    }

    /**
     * @param array<string, TrackedAlert> $raised
     *
     * @return array<string, Instant> by the key of the labels
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     * @throws BadRule
     * @throws Problem
     */
    private function clearAt(Rule $rule, array $raised, Instant $through): array
    {
        $core = $this->definitions->of($rule->inService)->core();
        $now = $this->clock->now();
        $until = $now->plus(Duration::ofMinutes(self::AHEAD_MINUTES));
        $engine = $this->engines->over(new GoingOn($this->readings, $now->ms, self::counters($core->watched)));
        $spells = $this->transitions->spells($rule->id(), $core, $through, $now);
        $clearAt = [];
        foreach (self::parts($core, $raised) as [$part, $alerts]) {
            foreach ($engine->run($part, $alerts, $through, $until, raised: $spells)->transitions as $happened) {
                if ($happened->transition->to === Phase::Calm) {
                    $clearAt[$happened->labels->key()] ??= $happened->transition->at;
                }
            }
        }

        return array_intersect_key($clearAt, $raised);
    }

    /**
     * One raised series among ten thousand needs no more read than its own; what is judged beside others needs these.
     *
     * @param array<string, TrackedAlert> $raised
     *
     * @return list<array{CoreRule, array<string, TrackedAlert>}>
     *
     * @throws BadRule
     */
    private static function parts(CoreRule $rule, array $raised): array
    {
        if (!$rule->condition instanceof Threshold || $rule->together !== null || count($raised) > self::FEW) {
            return [[$rule, $raised]];
        }
        $parts = [];
        foreach ($raised as $key => $alert) {
            $parts[] = [$rule->with(watched: Narrowing::to($rule->watched, $alert->labels->labels)), [$key => $alert]];
        }

        return $parts;
    }

    /** @return list<string> */
    private static function counters(Node $node): array
    {
        $counters = [];
        if ($node instanceof OverTime && $node->reducer->countsGrowth()) {
            $counters = array_column(Tree::selections($node), 'metric');
        }
        foreach (Tree::children($node) as $child) {
            array_push($counters, ...self::counters($child));
        }

        return array_values(array_unique($counters));
    }
}

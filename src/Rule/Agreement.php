<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\Database;
use Olivine\App\Rule\Entity\Rule;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Outcome;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * Whether a replay of what was read gives what a rule recorded as it looked, move by move: the promise that everything else
 * rests on, so that anybody can have it tested on an instance that is at work.
 */
final readonly class Agreement
{
    /** A rule that was put into service looks back first, and opens with how it stands then. */
    private const OPENING_SECONDS = 120;

    public function __construct(
        private Database $database,
        private RuleEngines $engines,
        private RuleDefinitions $definitions,
        private Transitions $transitions,
        private AlertStates $states,
    ) {
    }

    /**
     * Since the revision in service was put there.
     *
     * @return RuleAgreement|null null where it has not looked at anything yet
     *
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where a single instant would take too much
     * @throws BadRule       naming the field that cannot be so
     */
    public function of(Rule $rule): ?RuleAgreement
    {
        $through = $this->states->progress($rule->id())?->through;
        $began = $rule->inService->at;
        if ($through === null || !$through->isAfter($began)) {
            return null;
        }
        $core = $this->definitions->of($rule->inService)->core();
        // What was there from the beginning of all readings was evaluated from there on.
        $isFromTheStart = $rule->inService->number === 1 && $rule->createdAt->ms === $began->ms;
        $after = $began->minus($isFromTheStart ? Duration::none() : $core->holding->lostAfter);
        $since = $began->plus(Duration::ofSeconds($isFromTheStart ? 0 : self::OPENING_SECONDS));
        $raised = $this->transitions->spells($rule->id(), $core, $after, $through);
        $outcome = $this->database->snapshot(fn() => $this->engines->asItWas()->run($core, [], $after, $through, raised: $raised));

        return new RuleAgreement(
            self::stillLookedAt($this->transitions->of($rule->id(), $since, $through), $outcome),
            array_values(array_filter($outcome->transitions, static fn(AlertTransition $move): bool => $move->transition->at->isAfter($since))),
        );
    }

    /**
     * What was removed since is not there to be replayed: its alerts ended for that.
     *
     * @param list<AlertTransition> $recorded
     *
     * @return list<AlertTransition>
     */
    private static function stillLookedAt(array $recorded, Outcome $replayed): array
    {
        $there = $replayed->alerts;
        foreach ($replayed->transitions as $move) {
            $there[$move->labels->key()] = true;
        }
        $ends = [];
        foreach ($recorded as $move) {
            $ends[$move->labels->key()] = $move->transition->to;
        }
        $gone = array_diff_key(array_filter($ends, static fn(Phase $end): bool => $end === Phase::Ended), $there);

        return array_values(array_filter($recorded, static fn(AlertTransition $move): bool => !isset($gone[$move->labels->key()])));
    }
}

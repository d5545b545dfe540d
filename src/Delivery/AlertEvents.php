<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\App\Rule\StoredTransition;
use Olivine\Core\Delivery\Event\AlertEnded;
use Olivine\Core\Delivery\Event\AlertRaised;
use Olivine\Core\Delivery\Event\AlertTurned;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;

/** What a transition is for the course of an incident, in the words of the rule that made it. */
final readonly class AlertEvents
{
    private const LONGEST_TITLE = 500;

    /** @return bool whether it raises: past a limit, or for want of readings */
    public static function raises(StoredTransition $happened): bool
    {
        return $happened->to === Phase::Raised || self::isBlind($happened);
    }

    public static function isBlind(StoredTransition $happened): bool
    {
        return $happened->to === Phase::Blind && $happened->severity !== null;
    }

    public static function raised(StoredTransition $happened, RaisedBy $by): AlertRaised
    {
        $labels = $happened->labels;
        $severity = $happened->severity ?? Severity::Minor;
        $isBlind = self::isBlind($happened);
        $title = self::title($isBlind ? $by->blind($labels) : $by->raised($labels));
        $readings = $isBlind || $happened->value === null ? ', no readings' : ' at ' . $by->value($happened->value);
        $who = $happened->why === '' || $isBlind ? '' : " ({$happened->why})";
        $hasOnset = !$isBlind && $happened->onset->isBefore($happened->at);

        return new AlertRaised(
            self::key($happened),
            self::about($by->rule, $labels, $severity),
            $severity,
            $title,
            "raised as {$severity->value}{$readings}{$who}",
            ": {$title}",
            $hasOnset ? $happened->onset : null,
            $by->began($labels),
        );
    }

    /**
     * @param Severity $severity of the alert before
     *
     * @throws BadRule
     */
    public static function turned(StoredTransition $happened, RaisedBy $by, Severity $severity): AlertTurned
    {
        $isWorse = $happened->from === Phase::Raised && $happened->to === Phase::Raised;
        $where = $isWorse ? '' : ' (' . $by->name($happened->labels) . ')';

        return new AlertTurned(
            self::key($happened),
            $happened->severity,
            self::title($by->raised($happened->labels)),
            self::turn($happened, $by, $severity) . $where,
        );
    }

    /** @throws BadRule */
    public static function ended(StoredTransition $happened, RaisedBy $by): AlertEnded
    {
        $name = $by->name($happened->labels);
        $value = $happened->value === null ? '' : ' at ' . $by->value($happened->value);
        $lostAfter = $by->holding()->lostAfter->words();

        return new AlertEnded(self::key($happened), $happened->to, match ($happened->to) {
            Phase::Lost => "lost from sight: {$name} has brought no readings for {$lostAfter}; nobody knows how it is",
            Phase::Ended => "ended: {$name}; {$happened->why}",
            default => "cleared{$value}: {$name}",
        });
    }

    /** What an alert can be told by, beside its labels: the service of its rule, where it has one, its severity, its rule and that one's owner. */
    public static function about(RuleDefinition $rule, LabelSet $labels, Severity $severity): LabelSet
    {
        $beside = ['severity' => $severity->value, 'rule' => $rule->name, 'owner' => $rule->owner, 'service' => $rule->service];

        return LabelSet::of(array_filter($beside, static fn(string $value): bool => $value !== '') + $labels->labels);
    }

    public static function title(string $words): string
    {
        return mb_substr($words, 0, self::LONGEST_TITLE);
    }

    private static function key(StoredTransition $happened): string
    {
        return IncidentStates::key($happened->ruleId, $happened->labelsHash);
    }

    /** @throws BadRule */
    private static function turn(StoredTransition $happened, RaisedBy $by, Severity $severity): string
    {
        $value = $by->value($happened->value ?? 0.0);
        $graver = $happened->severity?->isWorseThan($severity) === true ? 'worse' : 'less grave';

        return match (true) {
            $happened->to === Phase::Easing => sprintf(
                'back at %s, %s; clears if it lasts %s',
                $value,
                $by->conditionOf($happened->labels)->backWords($by->unit),
                $by->holding()->clearHold->words(),
            ),
            $happened->to === Phase::Blind => 'no readings any more; last known as raised',
            $happened->to !== Phase::Raised => "{$happened->from->value} → {$happened->to->value}",
            $happened->from === Phase::Easing => "past the clear limit again at {$value}, stays raised",
            $happened->from === Phase::Raised => "{$graver}: {$happened->severity?->value} at {$value}",
            default => 'readings are back and past the limit',
        };
    }
}

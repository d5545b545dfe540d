<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Channel\DrawnAlert;
use Olivine\App\Delivery\Channel\Notice;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Entity\IncidentAlert;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\Settings;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** Gathers what is to be told of an incident as it stands now. */
final readonly class Notices
{
    /** So many alerts are told one by one, those that are up and the gravest first; of the others how many there are. */
    private const MOST_TOLD = 20;
    /** Reading a whole spell takes its time; the gravest are told with theirs. */
    private const MOST_WITH_SPELL = 3;

    public function __construct(
        private RaisingRules $rules,
        private IncidentAlertRepository $alerts,
        private Settings $settings,
        private Evaluator $evaluator,
        private SpellFigures $spells,
    ) {
    }

    public function of(Incident $incident, MessageKind $kind, string $key, Instant $now): Notice
    {
        $told = [];
        $drawn = null;
        $alerts = $this->alerts->of($incident->id());
        foreach (array_slice($alerts, 0, self::MOST_TOLD) as $alert) {
            $by = $this->rules->of($alert->ruleId, $alert->revisionId);
            if ($by === null) {
                continue;
            }
            if ($told === [] && !$alert->isBroken() && !$by->isOfGroup()) {
                // The one that decides is told first, and drawn.
                $drawn = new DrawnAlert($by, $alert->labelSet(), $alert->raisedAt);
            }
            $told[] = $this->told($alert, $by, $now, count($told) < self::MOST_WITH_SPELL);
        }

        return new Notice($incident, $kind, $key, $told, max(0, count($alerts) - self::MOST_TOLD), $drawn, $now);
    }

    private function told(IncidentAlert $alert, RaisedBy $by, Instant $now, bool $withSpell): ToldAlert
    {
        $labels = $alert->labelSet();
        $isBroken = $alert->isBroken();
        $value = $by->isOfGroup() ? $alert->raisedValue : $this->valueNow($by->rule->formula, $labels, $now);
        $goesOn = $alert->clearedAt === null;

        return new ToldAlert(
            name: OneLine::of($isBroken ? "The rule {$by->rule->name}" : $by->name($labels)),
            severity: $alert->severity->value,
            value: match (true) {
                $isBroken => 'cannot be evaluated',
                $value === null && $alert->raisedValue !== null => "no reading now, {$by->value($alert->raisedValue)} when raised",
                $value === null => 'no reading',
                default => $by->value($value),
            },
            beside: $isBroken ? OneLine::of($alert->words) : $by->conditionOf($labels)->reason($alert->raisedNumbers ?? [], $by->unit),
            since: $alert->onsetAt->in($this->settings->zone())->format('H:i'),
            end: $goesOn ? null : self::end(Phase::tryFrom($alert->ended)),
            runbook: $isBroken ? '' : OneLine::of($by->rule->runbook),
            words: $isBroken ? '' : OneLine::of($by->rule->words[$alert->severity->value] ?? ''),
            spell: $isBroken || !$withSpell
                ? ''
                : $this->spells->words($by, $labels, $alert->onsetAt, $alert->clearedAt ?? $now, $goesOn ? $value : null),
        );
    }

    /** How an alert ended, in words. */
    private static function end(?Phase $end): string
    {
        return match ($end) {
            Phase::Lost => 'lost from sight',
            Phase::Ended => 'looked at no more',
            default => 'cleared',
        };
    }

    private function valueNow(string $formula, LabelSet $labels, Instant $now): ?float
    {
        try {
            return $this->evaluator->line(Parser::parse($formula), $labels, $now->ms, $now->ms, 1)?->values[0];
        } catch (FormulaError|TooMuchToRead) {
            return null;
        }
    }
}

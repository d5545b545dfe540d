<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Entity\IncidentAlert;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\Settings;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;
use Symfony\Component\Mime\Address;
use Symfony\Component\Mime\Email;

/** Writes the mail of one delivery: all that the reader needs to decide, in the subject and on one screen. */
final readonly class IncidentMail
{
    /** So many alerts are told one by one, those that are up and the gravest first; of the others how many there are. */
    private const MOST_TOLD = 20;

    public function __construct(
        private RaisingRules $rules,
        private IncidentAlertRepository $alerts,
        private Settings $settings,
        private Evaluator $evaluator,
        private ChartPicture $chart,
        private ActLinks $links,
        private MessageText $text,
    ) {
    }

    public function write(Incident $incident, MessageKind $kind, Person $person, string $messageKey, Instant $now): Email
    {
        $zone = $this->settings->zone();
        $told = [];
        $drawn = null;
        $alerts = $this->alerts->of($incident->id());
        $more = max(0, count($alerts) - self::MOST_TOLD);
        foreach (array_slice($alerts, 0, self::MOST_TOLD) as $alert) {
            $by = $this->rules->of($alert->ruleId, $alert->revisionId);
            if ($by !== null) {
                // The one that decides is told first, and drawn.
                $drawn = $told === [] && !$alert->isBroken() && !$by->isOfGroup() ? [$by, $alert] : $drawn;
                $told[] = $this->told($alert, $by, $now);
            }
        }
        $over = $kind === MessageKind::Recovered || $kind === MessageKind::Lost;
        $subject = $this->text->subject($incident, $kind, $told, $now);
        $email = (new Email())
            ->from(new Address($this->settings->mailFrom(), 'Olivine'))
            ->to(new Address($person->email, OneLine::of($person->name)))
            ->subject($subject);
        $email
            ->getHeaders()
            ->addIdHeader('Message-ID', $messageKey . '@' . substr((string) strrchr($this->settings->mailFrom(), '@'), 1));
        $email->getHeaders()->addTextHeader('Auto-Submitted', 'auto-generated');
        if ($incident->severity === Severity::Critical && !$over) {
            $email->priority(Email::PRIORITY_HIGHEST);
        }
        $picture = $drawn === null ? null : $this->chart->draw($drawn[0], $drawn[1]->labelSet(), $drawn[1]->raisedAt, $now, $zone);
        if ($picture !== null) {
            $email->embed($picture, 'chart', 'image/png');
        }
        $acknowledgeUrl = $over ? null : $this->links->make($incident->id(), $person->id(), $now);

        return $email
            ->text($this->text->body('txt', $incident, $kind, $told, $now, $acknowledgeUrl, more: $more))
            ->html($this->text->body('html', $incident, $kind, $told, $now, $acknowledgeUrl, $picture !== null, $more));
    }

    private function told(IncidentAlert $alert, RaisedBy $by, Instant $now): ToldAlert
    {
        $labels = $alert->labelSet();
        $isBroken = $alert->isBroken();
        $value = $by->isOfGroup() ? $alert->raisedValue : $this->valueNow($by->rule->formula, $labels, $now);

        return new ToldAlert(
            name: OneLine::of($isBroken ? "The rule {$by->rule->name}" : $by->name($labels)),
            severity: $alert->severity->value,
            value: match (true) {
                $isBroken => 'cannot be evaluated',
                $value === null => 'no reading',
                default => $by->value($value),
            },
            beside: $isBroken ? OneLine::of($alert->words) : $by->conditionOf($labels)->reason($alert->raisedNumbers ?? [], $by->unit),
            since: $alert->onsetAt->in($this->settings->zone())->format('H:i'),
            end: $alert->clearedAt === null ? null : self::end(Phase::tryFrom($alert->ended)),
            runbook: $isBroken ? '' : OneLine::of($by->rule->runbook),
            words: $isBroken ? '' : OneLine::of($by->rule->words[$alert->severity->value] ?? ''),
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

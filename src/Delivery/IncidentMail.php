<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\Settings;
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
use Twig\Environment;

/** Writes the mail of one delivery: all that the reader needs to decide, in the subject and on one screen. */
final readonly class IncidentMail
{
    public function __construct(
        private RaisingRules $rules,
        private IncidentAlertRepository $alerts,
        private Settings $settings,
        private Evaluator $evaluator,
        private ChartPicture $chart,
        private ActLinks $links,
        private Environment $twig,
    ) {
    }

    public function write(Incident $incident, DeliveryKind $kind, Person $person, string $messageKey, Instant $now): Email
    {
        $zone = $this->settings->zone();
        $clock = static fn(Instant $at): string => $at->in($zone)->format('H:i');
        $alerts = [];
        foreach ($this->alerts->of($incident->id()) as $alert) {
            $by = $this->rules->of($alert->ruleId, $alert->revisionId);
            if ($by === null) {
                continue;
            }
            $labels = $alert->labelSet();
            $value = $by->isOfGroup() ? $alert->raisedValue : $this->valueNow($by->rule->formula, $labels, $now);
            $isBroken = $alert->isBroken();
            $alerts[] = [
                'by' => $by,
                'labels' => $labels,
                'name' => OneLine::of($isBroken ? "The rule {$by->rule->name}" : $by->name($labels)),
                'severity' => $alert->severity->value,
                'value' => $isBroken ? 'cannot be evaluated' : ($value === null ? 'no reading' : $by->value($value)),
                'beside' => $isBroken
                    ? OneLine::of($alert->words)
                    : $by->condition->reason($alert->raisedNumbers ?? [], $by->unit),
                'since' => $clock($alert->onsetAt),
                'raisedAt' => $alert->raisedAt,
                'end' => $alert->clearedAt === null ? null : self::end(Phase::tryFrom($alert->ended)),
                'runbook' => $isBroken ? '' : OneLine::of($by->rule->runbook),
                'hasChart' => !$isBroken && !$by->isOfGroup(),
            ];
        }
        $first = $alerts[0] ?? null;
        $over = $kind === DeliveryKind::Recovered || $kind === DeliveryKind::Lost;
        $lasted = ($incident->resolvedAt ?? $now)->since($incident->openedAt)->words();
        $subject = OneLine::of(
            match (true) {
                $first === null => $incident->title,
                $kind === DeliveryKind::Lost => sprintf(
                    '[lost from sight] %s: no readings came back, after %s nobody knows how it is',
                    $first['name'],
                    $lasted,
                ),
                $over => sprintf('[cleared] %s: %s after %s', $first['name'], $first['value'], $lasted),
                default => sprintf(
                    '[%s] %s: %s, %s, since %s',
                    $incident->severity->value,
                    $first['name'],
                    $first['value'],
                    $first['beside'],
                    $first['since'],
                ),
            },
        );
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
        $picture =
            $first === null || !$first['hasChart']
                ? null
                : $this->chart->draw($first['by'], $first['labels'], $first['raisedAt'], $now, $zone);
        if ($picture !== null) {
            $email->embed($picture, 'chart', 'image/png');
        }
        $context = [
            'incident' => $incident,
            'kind' => $kind->value,
            'over' => $over,
            'alerts' => $alerts,
            'hasChart' => $picture !== null,
            'opened' => $clock($incident->openedAt),
            'zone' => $zone->getName(),
            'title' => OneLine::of($incident->title),
            'service' => OneLine::of($incident->service),
            'lost' => $kind === DeliveryKind::Lost,
            'lasted' => $lasted,
            'acknowledgeUrl' => $over ? null : $this->links->make($incident->id(), $person->id(), $now),
            'incidentUrl' => $this->settings->publicUrl() . '/incidents/' . $incident->id(),
        ];

        return $email
            ->text($this->twig->render('mail/incident.txt.twig', $context))
            ->html($this->twig->render('mail/incident.html.twig', $context));
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

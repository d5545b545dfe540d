<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\TrailLine;
use Olivine\App\Delivery\Answer\WhoHeard;
use Olivine\App\Delivery\Definition\HeardFields;
use Olivine\App\Delivery\Entity\Delivery;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\Platform\Settings;
use Olivine\App\Rule\AlertKey;
use Olivine\App\Rule\Entity\Rule;
use Olivine\Core\Delivery\TrailKind;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** Answers of any alert of the past who heard of it, or why nobody did, from what was written down then. */
final readonly class WhoHeardThen
{
    private const MOST_WORDS = 60;
    private const REASONS = [TrailKind::HeldBack->value, TrailKind::Failed->value, TrailKind::Person->value];

    public function __construct(
        private IncidentAlertRepository $alerts,
        private IncidentRepository $incidents,
        private DeliveryRepository $deliveries,
        private Trail $trail,
        private Settings $settings,
    ) {
    }

    public function of(Rule $rule, HeardFields $asked): WhoHeard
    {
        $alert = $this->alerts->raisedAround($rule->id(), AlertKey::hash(LabelSet::of($asked->labels)), Instant::ofMs($asked->at));
        $incident = $alert === null ? null : $this->incidents->find($alert->incidentId);
        if ($incident === null) {
            $words = 'The rule raised nothing there then, so there was nothing to tell. What a replay shows is what it would have raised as it stands in it.';

            return new WhoHeard(null, false, '', [$words]);
        }
        $isSent = static fn(Delivery $one): bool => $one->status === DeliveryStatus::Sent;
        $isHeard = array_any($this->deliveries->raisedOf($incident->id()), $isSent);
        $lines = $this->trail->of($incident->id());
        $told = array_filter($lines, static fn(TrailLine $line): bool => $line->kind === TrailKind::Told->value);
        $reasons = array_filter($lines, static fn(TrailLine $line): bool => in_array($line->kind, self::REASONS, true));
        $words = array_map($this->words(...), array_slice([...$told, ...$reasons], 0, self::MOST_WORDS));

        return new WhoHeard(
            $incident->id(),
            $isHeard,
            $incident->title,
            !$isHeard && $words === [] ? [self::stillTrying($incident)] : $words,
        );
    }

    private function words(TrailLine $line): string
    {
        return "{$line->at->in($this->settings->zone())->format('j M H:i:s')}  {$line->words}";
    }

    private static function stillTrying(Incident $incident): string
    {
        return $incident->resolvedAt === null
            ? 'Nobody was told yet: it gathers, or its first rung is not due.'
            : 'Nobody was told, and nothing was written down that says why.';
    }
}

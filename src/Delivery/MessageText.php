<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\Settings;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Time\Instant;
use Twig\Environment;

/** What a message says of an incident. */
final readonly class MessageText
{
    public function __construct(private Settings $settings, private Environment $twig)
    {
    }

    /** @param list<ToldAlert> $alerts the one that decides first */
    public function subject(Incident $incident, MessageKind $kind, array $alerts, Instant $now): string
    {
        $first = $alerts[0] ?? null;
        $lasted = self::lasted($incident, $now);

        return OneLine::of(
            match (true) {
                $first === null => $incident->title,
                $kind === MessageKind::Lost => "[lost from sight] {$first->name}: no readings came back, after {$lasted} nobody knows how it is",
                $kind === MessageKind::Recovered => "[cleared] {$first->name}: {$first->value} after {$lasted}",
                default => "[{$incident->severity->value}] {$first->name}: {$first->value}, {$first->beside}, since {$first->since}",
            },
        );
    }

    /**
     * @param 'txt'|'html'    $as
     * @param list<ToldAlert> $alerts
     * @param string|null     $acknowledgeUrl where one answers; null where there is nothing to answer
     * @param int             $more           alerts beside these
     */
    public function body(
        string $as,
        Incident $incident,
        MessageKind $kind,
        array $alerts,
        Instant $now,
        ?string $acknowledgeUrl,
        bool $hasChart = false,
        int $more = 0,
    ): string {
        $zone = $this->settings->zone();
        $id = $incident->id ?? 'N';

        return $this->twig->render("mail/incident.{$as}.twig", [
            'incident' => $incident,
            'id' => $id,
            'kind' => $kind->value,
            'over' => $kind === MessageKind::Recovered || $kind === MessageKind::Lost,
            'alerts' => $alerts,
            'hasChart' => $hasChart,
            'more' => $more,
            'opened' => $incident->openedAt->in($zone)->format('H:i'),
            'zone' => $zone->getName(),
            'title' => OneLine::of($incident->title),
            'service' => OneLine::of($incident->service),
            'lost' => $kind === MessageKind::Lost,
            'lasted' => self::lasted($incident, $now),
            'acknowledgeUrl' => $acknowledgeUrl,
            'incidentUrl' => "{$this->settings->publicUrl()}/incidents/{$id}",
        ]);
    }

    private static function lasted(Incident $incident, Instant $now): string
    {
        return ($incident->resolvedAt ?? $now)->since($incident->openedAt)->words();
    }
}

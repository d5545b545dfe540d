<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Channel\Notice;
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
        $yours = $kind === MessageKind::Assigned ? 'yours: ' : '';

        return OneLine::of(
            match (true) {
                $first === null => $incident->title,
                $kind === MessageKind::Lost => "[lost from sight] {$first->name}: no readings came back, after {$lasted} nobody knows how it is",
                $kind->isOfTheEnd() => "[cleared] {$first->name}: {$first->value} after {$lasted}",
                default => "[{$yours}{$incident->severity->value}] {$first->name}: {$first->value}, {$first->beside}, since {$first->since}",
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
            'over' => $kind->isOfTheEnd(),
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

    /** @param non-empty-list<Notice> $notices what could wait */
    public function subjectTogether(array $notices): string
    {
        return OneLine::of(sprintf('[%d together] %s', count($notices), $this->subject(
            $notices[0]->incident,
            $notices[0]->kind,
            $notices[0]->alerts,
            $notices[0]->at,
        )));
    }

    /**
     * @param 'txt'|'html'           $as
     * @param non-empty-list<Notice> $notices
     */
    public function bodyTogether(string $as, array $notices): string
    {
        $rows = array_map(fn(Notice $notice): array => [
            'subject' => $this->subject($notice->incident, $notice->kind, $notice->alerts, $notice->at),
            'opened' => $notice->incident->openedAt->in($this->settings->zone())->format('j M H:i'),
            'url' => "{$this->settings->publicUrl()}/incidents/{$notice->incident->id()}",
        ], $notices);

        return $this->twig->render("mail/together.{$as}.twig", ['rows' => $rows, 'zone' => $this->settings->zone()->getName()]);
    }

    private static function lasted(Incident $incident, Instant $now): string
    {
        return ($incident->resolvedAt ?? $now)->since($incident->openedAt)->words();
    }
}

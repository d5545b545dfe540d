<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Channel\ChannelKind;
use Olivine\App\Delivery\Channel\Notice;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Template\Words;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\Settings;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Time\Instant;
use Twig\Environment;

/** What a message says of an incident. */
final readonly class MessageText
{
    public const REHEARSED = 'This is a rehearsal; nothing is wrong.';

    private const MOST_TOGETHER = 20;

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
            ($incident->rehearsedWith === null ? '' : '[rehearsal] ') . match (true) {
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
            'rehearsed' => $incident->rehearsedWith !== null,
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

    /**
     * The first of them, and the gravest where that is another one.
     *
     * @param non-empty-list<Notice> $notices what could wait
     */
    public function subjectTogether(array $notices): string
    {
        $gravest = array_reduce(
            $notices,
            static fn(Notice $most, Notice $one): Notice => $one->incident->severity->isWorseThan($most->incident->severity) ? $one : $most,
            $notices[0],
        );
        $words = fn(Notice $one): string => $this->subject($one->incident, $one->kind, $one->alerts, $one->at);
        $also = $gravest === $notices[0] ? '' : "; the gravest: {$words($gravest)}";

        return OneLine::of(sprintf('[%d together] %s', count($notices), $words($notices[0])) . $also);
    }

    /**
     * @param 'txt'|'html'           $as
     * @param non-empty-list<Notice> $notices
     */
    public function bodyTogether(string $as, array $notices): string
    {
        $gravest = $notices;
        usort($gravest, static fn(Notice $a, Notice $b): int => $b->incident->severity->rank() <=> $a->incident->severity->rank());
        $rows = array_map(fn(Notice $notice): array => [
            'subject' => $this->subject($notice->incident, $notice->kind, $notice->alerts, $notice->at),
            'opened' => $notice->incident->openedAt->in($this->settings->zone())->format('j M H:i'),
            'url' => "{$this->settings->publicUrl()}/incidents/{$notice->incident->id()}",
            'todo' => $notice->isOfTheEnd() ? [] : self::todo($notice->alerts),
        ], array_slice($gravest, 0, self::MOST_TOGETHER));
        $more = count($notices) - count($rows);

        return $this->twig->render("mail/together.{$as}.twig", [
            'rows' => $rows,
            'more' => $more,
            'count' => count($notices),
            'url' => "{$this->settings->publicUrl()}/",
            'zone' => $this->settings->zone()->getName(),
        ]);
    }

    /** As a message says it that has no template of its own. */
    public function shipped(?ChannelKind $kind, Notice $notice, ?string $link = null): Words
    {
        return new Words($this->subject($notice->incident, $notice->kind, $notice->alerts, $notice->at), match ($kind) {
            null => $this->body('txt', $notice->incident, $notice->kind, $notice->alerts, $notice->at, $link, more: $notice->more),
            ChannelKind::Sms => $this->short($notice),
            ChannelKind::Voice => $this->spoken($notice),
            ChannelKind::Chat, ChannelKind::Ticket, ChannelKind::Webhook => $this->chat($notice),
        });
    }

    /** A mail in the words of a template, with the chart and the link that it would have. */
    public function ownBody(Words $own, bool $hasChart, ?string $link): string
    {
        return $this->twig->render('mail/own.html.twig', ['text' => $own->text, 'hasChart' => $hasChart, 'acknowledgeUrl' => $link]);
    }

    /** As a short message says it: what is wrong, how bad, since when. */
    public function short(Notice $notice): string
    {
        $spell = $notice->alerts[0]->spell ?? '';
        $more = count($notice->alerts) + $notice->more - 1;

        return $this->subject($notice->incident, $notice->kind, $notice->alerts, $notice->at)
            . ($spell === '' ? '' : " ({$spell})")
            . ($more > 0 ? ", and {$more} more" : '') . '.';
    }

    /** @param non-empty-list<Notice> $notices what could wait */
    public function shortTogether(array $notices): string
    {
        return "{$this->subjectTogether($notices)}. See {$this->settings->publicUrl()}/";
    }

    /** As it is read out in a call: whole sentences, twice what one misses half asleep. */
    public function spoken(Notice $notice): string
    {
        $incident = $notice->incident;
        $first = $notice->alerts[0] ?? null;
        $words = match (true) {
            $first === null => "{$incident->title}.",
            $notice->isOfTheEnd() => "It is over: {$first->name}, {$first->value}.",
            default => "{$incident->severity->value}. {$first->name}. {$first->value}, {$first->beside}, since {$first->since}.",
        };
        $todo = $first === null || $first->words === '' ? '' : " {$first->words}.";
        $again = $notice->isAnswered() ? ' I repeat. ' . $words : '';

        $marked = $incident->rehearsedWith === null ? '' : self::REHEARSED . ' ';

        return OneLine::of("This is Olivine. {$marked}{$words}{$todo}{$again}");
    }

    /** As a chat room or a desk reads it: every alert, with what there is to do, and where the incident is. */
    public function chat(Notice $notice): string
    {
        $lines = $notice->incident->rehearsedWith === null ? [] : [self::REHEARSED];
        foreach ($notice->alerts as $alert) {
            $spell = $alert->spell === '' ? '' : " ({$alert->spell})";
            $lines[] = "{$alert->name}: {$alert->value}, {$alert->beside}, since {$alert->since}, " . ($alert->end ?? $alert->severity) . $spell;
            foreach ($notice->isOfTheEnd() ? [] : [$alert->words, $alert->runbook] as $words) {
                if ($words !== '') {
                    $lines[] = "  {$words}";
                }
            }
        }
        if ($notice->more > 0) {
            $lines[] = "and {$notice->more} more";
        }
        $lines[] = "{$this->settings->publicUrl()}/incidents/{$notice->incident->id()}";

        return implode("
", $lines);
    }

    /**
     * @param list<ToldAlert> $alerts
     *
     * @return list<string> what there is to do, and where it is written, each once
     */
    private static function todo(array $alerts): array
    {
        $words = array_merge(...array_map(static fn(ToldAlert $one): array => [$one->words, $one->runbook], $alerts));

        return array_values(array_unique(array_filter($words, static fn(string $one): bool => $one !== '')));
    }

    private static function lasted(Incident $incident, Instant $now): string
    {
        return ($incident->resolvedAt ?? $now)->since($incident->openedAt)->words();
    }
}

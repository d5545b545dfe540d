<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Template;

use Olivine\App\Delivery\Channel\Notice;
use Olivine\App\Delivery\ToldAlert;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Settings;

/** What a template may say of a message: plain texts and lists, nothing that could be asked for more. */
final readonly class MessageValues
{
    /** What there is → what it says. */
    public const MEANING = [
        'subject' => 'as it is worded without a template, on one line',
        'text' => 'the same, in full',
        'incident.id' => 'its number',
        'incident.title' => 'what is wrong, as a sentence',
        'incident.severity' => 'critical, major, minor or warning',
        'incident.group' => 'what it is of, by its path',
        'incident.path' => 'the path that answers',
        'incident.opened' => 'since when, such as 03:12',
        'incident.lasted' => 'for how long, such as 5 min',
        'incident.url' => 'its page',
        'kind' => 'raised, worse, recovered, lost, assigned, copy opened, copy worse or copy resolved',
        'over' => 'whether it tells of the end',
        'alerts' => 'each with name, severity, value, beside, since, end, words, runbook and spell; the one that decides first',
        'more' => 'how many alerts beside these',
        'person' => 'whom it is for; nobody in a room',
        'link' => 'where one answers; only in mail',
    ];

    public function __construct(private Settings $settings)
    {
    }

    /** @return array<string, mixed> */
    public function of(Notice $notice, ?Person $person, Words $shipped, string $link): array
    {
        $incident = $notice->incident;

        return [
            'subject' => $shipped->subject,
            'text' => $shipped->text,
            'incident' => [
                'id' => $incident->id ?? 0,
                'title' => $incident->title,
                'severity' => $incident->severity->value,
                'group' => $incident->service,
                'path' => $incident->path,
                'opened' => $incident->openedAt->in($this->settings->zone())->format('H:i'),
                'lasted' => ($incident->resolvedAt ?? $notice->at)->since($incident->openedAt)->words(),
                'url' => "{$this->settings->publicUrl()}/incidents/" . ($incident->id ?? 0),
            ],
            'kind' => $notice->kind->value,
            'over' => $notice->isOfTheEnd(),
            'alerts' => array_map(static fn(ToldAlert $one): array => ['end' => $one->end ?? ''] + get_object_vars($one), $notice->alerts),
            'more' => $notice->more,
            'person' => $person->name ?? '',
            'link' => $link,
        ];
    }
}

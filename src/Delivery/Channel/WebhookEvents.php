<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\Delivery\ToldAlert;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Settings;
use Olivine\Core\Time\Instant;

/** Messages as events of CloudEvents 1.0, in JSON: the id is the same however often one is sent. */
final readonly class WebhookEvents
{
    private const TYPE = 'olivine.incident.';
    private const TOGETHER = 'olivine.incidents.together';

    public function __construct(private Settings $settings)
    {
    }

    public function of(Notice $notice, ?Person $person): string
    {
        $incident = $notice->incident;
        $type = self::TYPE . str_replace(' ', '.', $notice->kind->value);

        return $this->event($notice->key, $type, "incidents/{$incident->id()}", $notice->at, $this->data($notice) + self::for($person));
    }

    /** @param non-empty-list<Notice> $notices what could wait, in one event */
    public function together(array $notices, ?Person $person): string
    {
        $told = array_map(fn(Notice $notice): array => ['id' => $notice->key, 'what' => $notice->kind->value] + $this->data($notice), $notices);

        return $this->event($notices[0]->key, self::TOGETHER, 'incidents', $notices[0]->at, ['incidents' => $told] + self::for($person));
    }

    /** @return array<string, mixed> */
    private function data(Notice $notice): array
    {
        $incident = $notice->incident;

        return [
            'incident' => [
                'id' => $incident->id(),
                'title' => $incident->title,
                'service' => $incident->service,
                'severity' => $incident->severity->value,
                'status' => $incident->status->value,
                'openedAt' => self::time($incident->openedAt),
                'page' => "{$this->settings->publicUrl()}/incidents/{$incident->id()}",
            ],
            'alerts' => array_map(self::alert(...), $notice->alerts),
            'moreAlerts' => $notice->more,
            'rehearsal' => $incident->rehearsedWith !== null,
        ];
    }

    /** @return array<string, array<string, string>> */
    private static function for(?Person $person): array
    {
        return $person === null ? [] : ['for' => ['name' => $person->name, 'email' => $person->email]];
    }

    public function test(Person $person, Instant $at): string
    {
        return $this->event('test-' . bin2hex(random_bytes(8)), 'olivine.test', 'test', $at, [
            'words' => "This says that Olivine reaches this address. {$person->name} asked for it.",
        ]);
    }

    /** @return array<string, string> what there is to say of it */
    private static function alert(ToldAlert $alert): array
    {
        $said = [
            'name' => $alert->name,
            'severity' => $alert->severity,
            'value' => $alert->value,
            'beside' => $alert->beside,
            'since' => $alert->since,
            'end' => $alert->end ?? '',
            'words' => $alert->words,
            'runbook' => $alert->runbook,
        ];

        return array_filter($said, static fn(string $words): bool => $words !== '');
    }

    /** @param array<string, mixed> $data */
    private function event(string $id, string $type, string $subject, Instant $at, array $data): string
    {
        return json_encode(
            [
                'specversion' => '1.0',
                'id' => $id,
                'source' => $this->settings->publicUrl(),
                'type' => $type,
                'subject' => $subject,
                'time' => self::time($at),
                'datacontenttype' => 'application/json',
                'data' => $data,
            ],
            JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE,
        );
    }

    private static function time(Instant $at): string
    {
        return $at->in(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s\Z');
    }
}

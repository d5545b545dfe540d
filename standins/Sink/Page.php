<?php

declare(strict_types=1);

namespace Olivine\Standin\Sink;

use Olivine\Server\Response;
use Olivine\Standin\Outside\Mood;
use Olivine\Standin\Outside\Sheet;

/** The page of what was told. */
final class Page
{
    private const MOST = 200;

    /** @param list<array<string, mixed>> $events */
    public static function of(array $events, Mood $mood): Response
    {
        $rows = implode('', array_map(self::row(...), array_slice($events, 0, self::MOST)));

        return Sheet::of('What the harbour board was told', $mood, $rows === '' ? '<p>Nothing yet.</p>' : "<ul>{$rows}</ul>");
    }

    /** @param array<string, mixed> $event */
    private static function row(array $event): string
    {
        $told = is_array($event['event'] ?? null) ? $event['event'] : [];
        $data = is_array($told['data'] ?? null) ? $told['data'] : [];
        $incident = is_array($data['incident'] ?? null) ? $data['incident'] : [];
        $whole = htmlspecialchars((string) json_encode($told, JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE));

        return '<li><strong>' . Sheet::text($incident['title'] ?? $event['type'] ?? '') . '</strong><br><small>' . Sheet::text($event['type'] ?? '')
            . ' · ' . Sheet::when($event) . "</small><details><summary>the event</summary><pre>{$whole}</pre></details></li>";
    }
}

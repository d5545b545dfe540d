<?php

declare(strict_types=1);

namespace Olivine\Standin\Sink;

/**
 * The page of what was told, with a button for each way to misbehave.
 *
 * @phpstan-import-type Event from Events
 */
final class Page
{
    /** Takes what it is told, refuses it, never answers, or keeps it and says that it failed. */
    public const MODES = ['takes', 'fails', 'hangs', 'loses'];
    private const MOST = 200;
    private const STYLE = 'body{margin:0;background:#EEF1F4;color:#20262B;font:15px/1.45 system-ui,sans-serif}
        main{max-width:860px;margin:0 auto;padding:24px 16px}h1{font-size:20px}
        ul{list-style:none;padding:0;background:#fff;border:1px solid #D5DAE0;border-radius:8px}
        li{border-top:1px solid #E8EBEE;padding:12px 16px}li:first-child{border:0}
        small{color:#59636D}button{font:inherit;padding:6px 12px}button[disabled]{font-weight:600;color:inherit}
        pre{white-space:pre-wrap;overflow-wrap:anywhere}';

    /** @param list<Event> $events */
    public static function of(array $events, string $mode): string
    {
        $buttons = implode(' ', array_map(
            static fn(string $one): string => "<button name=\"mode\" value=\"{$one}\"" . ($one === $mode ? ' disabled' : '') . ">{$one}</button>",
            self::MODES,
        ));
        $rows = implode('', array_map(self::row(...), array_slice($events, 0, self::MOST)));

        return '<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Sink</title><style>'
            . self::STYLE
            . '</style><main><h1>What the harbour board was told</h1><form method="post" action="/mode">'
            . "{$buttons} <small>it {$mode} what comes now</small></form>"
            . ($rows === '' ? '<p>Nothing yet.</p>' : "<ul>{$rows}</ul>")
            . '</main></html>';
    }

    /** @param Event $event */
    private static function row(array $event): string
    {
        $data = $event['event']['data'] ?? null;
        $incident = is_array($data) ? $data['incident'] ?? null : null;
        $title = is_array($incident) && is_string($incident['title'] ?? null) ? $incident['title'] : $event['type'];
        $at = date('D H:i:s', intdiv($event['at'], 1000)) . ' UTC';
        $again = $event['arrivals'] > 1 ? " · arrived {$event['arrivals']}×" : '';
        $whole = htmlspecialchars((string) json_encode($event['event'], JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE));

        return '<li><strong>' . htmlspecialchars($title) . '</strong><br><small>' . htmlspecialchars($event['type'])
            . " · {$at}{$again}</small><details><summary>the event</summary><pre>{$whole}</pre></details></li>";
    }
}

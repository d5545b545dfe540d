<?php

declare(strict_types=1);

namespace Olivine\Standin\Outside;

use Olivine\Server\Request;
use Olivine\Server\Response;

/** How a stand-in behaves: takes what it is told, refuses it, never answers, or keeps it and says that it failed. */
final class Mood
{
    private const ALL = ['takes', 'fails', 'hangs', 'loses'];
    private const HANGS_SECONDS = 60.0;
    private string $now = 'takes';

    /**
     * @param callable(): Response $take
     */
    public function answered(callable $take): Response
    {
        return match ($this->now) {
            'hangs' => new Response('', 'text/plain', 503, afterSeconds: self::HANGS_SECONDS),
            'fails' => new Response("Not today\n", 'text/plain', 503),
            'loses' => self::lost($take()),
            default => $take(),
        };
    }

    /** @return Response|null where one was asked to change it */
    public function changed(Request $request): ?Response
    {
        if ($request->path !== '/mode' || $request->method !== 'POST') {
            return null;
        }
        $asked = $request->form()['mode'] ?? '';
        $this->now = in_array($asked, self::ALL, true) ? $asked : $this->now;

        return Response::redirect('/');
    }

    /** A button for each. */
    public function buttons(): string
    {
        $buttons = array_map(
            fn(string $one): string => "<button name=\"mode\" value=\"{$one}\"" . ($one === $this->now ? ' disabled' : '') . ">{$one}</button>",
            self::ALL,
        );

        return '<form method="post" action="/mode">' . implode(' ', $buttons) . " <small>it {$this->now} what comes now</small></form>";
    }

    private static function lost(Response $taken): Response
    {
        return $taken->status < 300 ? new Response('', 'text/plain', 500) : $taken;
    }
}

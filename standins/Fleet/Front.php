<?php

declare(strict_types=1);

namespace Olivine\Standin\Fleet;

use Olivine\Server\Request;
use Olivine\Server\Response;

/**
 * What passengers and crews see of Saltmarsh Ferries: a ticket shop with a login, a forecast of the tides, the desk of the
 * gates. Under /shop, /tides and /gates; each can be broken like any target.
 */
final readonly class Front
{
    public const PLACES = ['shop', 'tides', 'gates'];
    private const USER = 'passenger';
    private const PASSWORD = 'two-bells';
    private const LOW_METRES = 0.6;
    private const RANGE_METRES = 3.4;
    private const TIDE_SECONDS = 44_712;

    public function __construct(private Breaks $breaks)
    {
    }

    /** @return Response|null null where that is none of its pages */
    public function answer(Request $request, int $second): ?Response
    {
        $place = explode('/', trim($request->path, '/'))[0];
        if (!in_array($place, self::PLACES, true)) {
            return null;
        }
        $page = match (true) {
            $this->breaks->isOn('down', $place) => new Response('', hangUp: true),
            $this->breaks->isOn('error', $place) => new Response("The pier is closed for the moment\n", 'text/plain', 503),
            default => $this->page($request, $second),
        };

        $usual = 0.03 + 0.05 * abs(sin($second + strlen($request->path)));
        $after = $this->breaks->isOn('slow', $place) ? 3.0 : $usual;

        return new Response($page->body, $page->contentType, $page->status, $page->location, $after, $page->hangUp);
    }

    private function page(Request $request, int $second): Response
    {
        return match ("{$request->method} {$request->path}") {
            'GET /shop', 'GET /shop/', 'HEAD /shop/' => $this->shop($second),
            'POST /shop/login' => $this->login($request),
            'GET /shop/bookings' => $this->bookings($request, $second),
            'GET /tides/forecast.json' => Response::json([
                'station' => 'Skarn',
                'water' => ['height' => self::tide($second), 'unit' => 'm', 'rising' => self::tide($second + 60) > self::tide($second)],
                'hours' => array_map(static fn(int $h): array => ['in' => $h, 'height' => self::tide($second + 3_600 * $h)], range(0, 5)),
            ]),
            'GET /gates/desk.xml' => new Response(
                sprintf('<?xml version="1.0"?><desk state="open"><gate pier="skarn" waiting="%d"/></desk>', self::waiting($second)),
                'application/xml',
            ),
            default => new Response("There is no such page\n", 'text/plain', 404),
        };
    }

    private function shop(int $second): Response
    {
        $words = $this->breaks->isOn('words', 'shop') ? '<p>All sailings are sold out' : '<a href="/shop/book">Book now</a>';

        return new Response(
            '<!doctype html><html lang="en"><title>Saltmarsh Ferries</title><h1>Saltmarsh Ferries</h1>' .
                "{$words}<table><tr><th>Next sailing from Skarn<td id=\"free\">" . (240 - self::waiting($second)) . ' berths free</table></html>',
        );
    }

    private function login(Request $request): Response
    {
        $said = json_decode($request->body, true);
        $isRight = is_array($said) && ($said['user'] ?? '') === self::USER && ($said['password'] ?? '') === self::PASSWORD;

        return $isRight && !$this->breaks->isOn('login', 'shop')
            ? Response::json(['token' => $this->token(), 'for' => self::USER])
            : new Response('{"error": "Who is there?"}', 'application/json', 401);
    }

    private function bookings(Request $request, int $second): Response
    {
        return ($request->headers['x-berth-token'] ?? '') === $this->token()
            ? Response::json(['bookings' => 3, 'queue' => ['depth' => self::waiting($second)]])
            : new Response('{"error": "Show your token"}', 'application/json', 403);
    }

    private function token(): string
    {
        return substr(hash('sha256', self::PASSWORD), 0, 24);
    }

    private static function tide(int $second): float
    {
        return round(self::LOW_METRES + self::RANGE_METRES * (0.5 + 0.5 * sin((2 * M_PI * $second) / self::TIDE_SECONDS)), 2);
    }

    private static function waiting(int $second): int
    {
        return (int) (30 + 25 * sin($second / 900));
    }
}

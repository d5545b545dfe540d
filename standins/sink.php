<?php

declare(strict_types=1);

// A program that is told of incidents, with a page of what it was told: --port=PORT --state=FOLDER --secret=SECRET

use Olivine\Server\Arguments;
use Olivine\Server\HttpServer;
use Olivine\Server\Request;
use Olivine\Server\Response;
use Olivine\Standin\Outside\Mood;
use Olivine\Standin\Outside\Olivine;
use Olivine\Standin\Outside\Things;
use Olivine\Standin\Sink\Events;
use Olivine\Standin\Sink\Page;

require dirname(__DIR__) . '/vendor/autoload.php';

$arguments = Arguments::of($argv, 'A program that is told of incidents', [
    'port' => 'where it is told, and its page',
    'state' => 'folder where it keeps what it was told',
    'secret' => 'what messages must be signed with',
]);
$events = new Events(
    new Things($arguments->get('state', sys_get_temp_dir() . '/sink')),
    new Olivine('', $arguments->get('secret', 'the-tide-table-hangs-by-the-door')),
);
$mood = new Mood();

(new HttpServer(static function (Request $request) use ($events, $mood): Response {
    if ($request->path === '/events' && $request->method === 'POST') {
        return $mood->answered(static function () use ($events, $request): Response {
            $refusal = $events->receive($request);

            return $refusal === null ? new Response('', 'text/plain', 202) : new Response("{$refusal}\n", 'text/plain', 401);
        });
    }
    if ($request->path === '/api/events') {
        return Response::json($events->all());
    }

    return $mood->changed($request) ?? Page::of($events->all(), $mood);
}))->listen('127.0.0.1:' . $arguments->get('port', '8427'));

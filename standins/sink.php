<?php

declare(strict_types=1);

// A program that is told of incidents, with a page of what it was told: --port=PORT --state=FOLDER --secret=SECRET

use Olivine\Server\Arguments;
use Olivine\Server\HttpServer;
use Olivine\Server\Request;
use Olivine\Server\Response;
use Olivine\Standin\Sink\Events;
use Olivine\Standin\Sink\Page;

require dirname(__DIR__) . '/vendor/autoload.php';

$arguments = Arguments::of($argv, 'A program that is told of incidents', [
    'port' => 'where it is told, and its page',
    'state' => 'folder where it keeps what it was told',
    'secret' => 'what messages must be signed with',
]);
$events = new Events($arguments->get('state', sys_get_temp_dir() . '/sink'), $arguments->get('secret', 'the-tide-table-hangs-by-the-door'));
$mode = 'takes';

(new HttpServer(static function (Request $request) use ($events, &$mode): Response {
    if ($request->path === '/events' && $request->method === 'POST') {
        if ($mode === 'hangs') {
            return new Response('', 'text/plain', 503, afterSeconds: 60.0);
        }
        if ($mode === 'fails') {
            return new Response("Not today\n", 'text/plain', 503);
        }
        $refusal = $events->receive($request);

        return $refusal === null ? new Response('', 'text/plain', $mode === 'loses' ? 500 : 202) : new Response("{$refusal}\n", 'text/plain', 401);
    }
    if ($request->path === '/api/events') {
        return Response::json($events->all());
    }
    if ($request->path === '/mode' && $request->method === 'POST') {
        $asked = $request->form()['mode'] ?? '';
        $mode = in_array($asked, Page::MODES, true) ? $asked : $mode;

        return Response::redirect('/');
    }

    return new Response(Page::of($events->all(), $mode));
}))->listen('127.0.0.1:' . $arguments->get('port', '8427'));

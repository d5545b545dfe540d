<?php

declare(strict_types=1);

// The desk of the piers, which keeps tickets: --port=PORT --state=FOLDER --secret=SECRET

use Olivine\Server\Arguments;
use Olivine\Server\HttpServer;
use Olivine\Server\Request;
use Olivine\Server\Response;
use Olivine\Standin\Desk\Tickets;
use Olivine\Standin\Outside\Mood;
use Olivine\Standin\Outside\Olivine;
use Olivine\Standin\Outside\Things;

require dirname(__DIR__) . '/vendor/autoload.php';

$arguments = Arguments::of($argv, 'The desk of the piers', [
    'port' => 'where tickets are opened, and its page',
    'state' => 'folder where it keeps its tickets',
    'secret' => 'what is signed with',
]);
$port = $arguments->get('port', '8430');
$olivine = new Olivine('', $arguments->get('secret', 'every-ticket-has-two-halves'));
$tickets = new Tickets(new Things($arguments->get('state', sys_get_temp_dir() . '/desk')), "http://127.0.0.1:{$port}");
$mood = new Mood();

(new HttpServer(static function (Request $request) use ($olivine, $tickets, $mood): Response {
    if (str_starts_with($request->path, '/tickets')) {
        return $mood->answered(static function () use ($olivine, $tickets, $request): Response {
            $refusal = $olivine->refusal($request);

            return $refusal === null ? $tickets->asked($request) : new Response("{$refusal}\n", 'text/plain', 401);
        });
    }
    if ($request->path === '/api/tickets') {
        return Response::json($tickets->all());
    }
    if ($request->path === '/change' && $request->method === 'POST') {
        $tickets->change($request->form());

        return Response::redirect('/');
    }

    return $mood->changed($request) ?? $tickets->page($mood);
}))->listen("127.0.0.1:{$port}");

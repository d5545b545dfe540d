<?php

declare(strict_types=1);

// The chat of the crew: rooms in which things are said, with buttons: --port=PORT --state=FOLDER --olivine=ADDRESS --secret=SECRET

use Olivine\Server\Arguments;
use Olivine\Server\HttpServer;
use Olivine\Server\Request;
use Olivine\Server\Response;
use Olivine\Standin\Chat\Rooms;
use Olivine\Standin\Outside\Conversations;
use Olivine\Standin\Outside\Mood;
use Olivine\Standin\Outside\Olivine;
use Olivine\Standin\Outside\Things;

require dirname(__DIR__) . '/vendor/autoload.php';

$arguments = Arguments::of($argv, 'The chat of the crew', [
    'port' => 'where it is said, and its page',
    'state' => 'folder where it keeps what was said',
    'olivine' => 'where answers are brought',
    'secret' => 'what is signed with',
]);
$olivine = new Olivine($arguments->get('olivine', 'http://127.0.0.1:8420'), $arguments->get('secret', 'whoever-is-awake-says-so-here'));
$said = new Conversations(new Things($arguments->get('state', sys_get_temp_dir() . '/chat')), $olivine);
$rooms = new Rooms($said);
$mood = new Mood();

(new HttpServer(static function (Request $request) use ($olivine, $said, $rooms, $mood): Response {
    if (preg_match('~^/hooks/([a-z-]+)$~D', $request->path, $hook) === 1 && $request->method === 'POST') {
        return $mood->answered(static function () use ($olivine, $said, $request, $hook): Response {
            $refusal = $olivine->refusal($request);

            return $refusal === null ? $said->arrives($hook[1], $request->body, ['title']) : new Response("{$refusal}\n", 'text/plain', 401);
        });
    }
    if ($request->path === '/api/said') {
        return Response::json($said->all());
    }
    if ($request->path === '/answer' && $request->method === 'POST') {
        $rooms->answered($request->form());

        return Response::redirect('/');
    }

    return $mood->changed($request) ?? $rooms->page($mood);
}))->listen('127.0.0.1:' . $arguments->get('port', '8429'));

<?php

declare(strict_types=1);

// The telephones of the crew: SMS and calls arrive here, and are answered: --port=PORT --state=FOLDER --olivine=ADDRESS --secret=SECRET

use Olivine\Server\Arguments;
use Olivine\Server\HttpServer;
use Olivine\Server\Request;
use Olivine\Server\Response;
use Olivine\Standin\Outside\Conversations;
use Olivine\Standin\Outside\Mood;
use Olivine\Standin\Outside\Olivine;
use Olivine\Standin\Outside\Things;
use Olivine\Standin\Phone\Telephones;

require dirname(__DIR__) . '/vendor/autoload.php';

$arguments = Arguments::of($argv, 'The telephones of the crew', [
    'port' => 'of the gateway, and its page',
    'state' => 'folder where it keeps what arrived',
    'olivine' => 'where answers are brought',
    'secret' => 'what is signed with',
]);
$olivine = new Olivine($arguments->get('olivine', 'http://127.0.0.1:8420'), $arguments->get('secret', 'three-short-rings-and-a-long-one'));
$said = new Conversations(new Things($arguments->get('state', sys_get_temp_dir() . '/phone')), $olivine);
$phones = new Telephones($said);
$mood = new Mood();

(new HttpServer(static function (Request $request) use ($olivine, $said, $phones, $mood): Response {
    if ($request->method === 'POST' && in_array($request->path, ['/messages', '/calls'], true)) {
        return $mood->answered(static function () use ($olivine, $said, $request): Response {
            $refusal = $olivine->refusal($request);

            return $refusal === null
                ? $said->arrives($request->path === '/calls' ? 'voice' : 'sms', $request->body, ['to'])
                : new Response("{$refusal}\n", 'text/plain', 401);
        });
    }
    if ($request->path === '/api/phone') {
        return Response::json($said->all());
    }
    if ($request->path === '/answer' && $request->method === 'POST') {
        $phones->answered($request->form());

        return Response::redirect('/');
    }

    return $mood->changed($request) ?? $phones->page($mood);
}))->listen('127.0.0.1:' . $arguments->get('port', '8428'));

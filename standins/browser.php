<?php

declare(strict_types=1);

// A browser that lets itself be told, and its push service: --port=PORT --state=FOLDER
// /subscription says where and by which key; what is pushed stands on its page, as the notice would show it.

use Olivine\Server\Arguments;
use Olivine\Server\HttpServer;
use Olivine\Server\Request;
use Olivine\Server\Response;
use Olivine\Standin\Browser\Subscription;
use Olivine\Standin\Outside\Mood;
use Olivine\Standin\Outside\Sheet;
use Olivine\Standin\Outside\Things;

require dirname(__DIR__) . '/vendor/autoload.php';

$arguments = Arguments::of($argv, 'A browser that lets itself be told, and its push service', [
    'port' => 'port of the push service and of the page',
    'state' => 'folder where it keeps its key and what it was told',
]);
$port = $arguments->get('port', '8431');
$state = $arguments->get('state', sys_get_temp_dir() . '/browser');
$things = new Things("{$state}/told");
$browser = Subscription::kept("{$state}/key.json");
$origin = "http://127.0.0.1:{$port}";
$mood = new Mood();

$told = static function (Request $request) use ($browser, $things, $origin): Response {
    $refusal = $browser->refusal($request, $origin);
    if ($refusal !== null) {
        return new Response("{$refusal}\n", 'text/plain', 403);
    }
    $text = $browser->read($request->body);
    if ($text === null) {
        return new Response("It cannot be read\n", 'text/plain', 400);
    }
    $things->arrives(bin2hex(random_bytes(8)), [
        'said' => json_decode($text, true),
        'urgency' => $request->headers['urgency'] ?? '',
        'topic' => $request->headers['topic'] ?? '',
    ]);

    return new Response('', 'text/plain', 201);
};
$page = static function () use ($things, $mood): Response {
    $rows = '';
    foreach ($things->all() as $one) {
        $said = is_array($one['said'] ?? null) ? $one['said'] : [];
        $url = is_string($said['url'] ?? null) ? $said['url'] : '';
        $rows .= '<li><strong>' . Sheet::text($said['title'] ?? '') . '</strong> <small>' . Sheet::text($one['urgency'] ?? '') . ' · ' . Sheet::when($one)
            . '</small><br><a href="' . Sheet::text($url) . '">' . Sheet::text($url) . '</a></li>';
    }

    return Sheet::of('The notices of a browser', $mood, $rows === '' ? '<p>No notices yet.</p>' : "<ul>{$rows}</ul>");
};

(new HttpServer(static fn(Request $request): Response => match (true) {
    $request->path === '/push/ines' && $request->method === 'POST' => $mood->answered(static fn(): Response => $told($request)),
    $request->path === '/push/gone' => new Response('', 'text/plain', 410),
    $request->path === '/subscription' => Response::json([
        'endpoint' => "{$origin}/push/ines",
        'key' => Subscription::text($browser->public),
        'auth' => Subscription::text($browser->auth),
    ]),
    $request->path === '/api/notices' => Response::json($things->all()),
    default => $mood->changed($request) ?? $page(),
}))->listen("127.0.0.1:{$port}");

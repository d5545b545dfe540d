<?php

declare(strict_types=1);

// A mail server with its inbox page: --http=PORT --smtp=PORT --round=PORT --box=PORT --state=FOLDER

use Olivine\Server\Arguments;
use Olivine\Server\HttpServer;
use Olivine\Server\Request;
use Olivine\Server\Response;
use Olivine\Standin\Mailbox\Letters;
use Olivine\Standin\Mailbox\PostBox;
use Olivine\Standin\Mailbox\Reader;
use Olivine\Standin\Mailbox\SmtpServer;

require dirname(__DIR__) . '/vendor/autoload.php';

$arguments = Arguments::of($argv, 'A mail server with its inbox page', [
    'http' => 'port of its page',
    'smtp' => 'port that takes mail',
    'round' => 'port that takes letters of the round trip, and no others',
    'box' => 'port where the round trip reads its own',
    'password' => 'what it is read with',
    'state' => 'folder where it keeps its letters',
]);
$letters = new Letters($arguments->get('state', sys_get_temp_dir() . '/mailbox'));
$box = new PostBox('round-trip@saltmarsh.example', $arguments->get('password', 'flood-and-ebb'));
$box->listen('127.0.0.1:' . $arguments->get('box', '8432'));
(new SmtpServer($box))->listen('127.0.0.1:' . $arguments->get('round', '8433'));
$smtp = new SmtpServer($letters);
$smtp->listen('127.0.0.1:' . $arguments->get('smtp', '8424'));

$page = static function (string $title, string $body): Response {
    return new Response(
        '<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>' .
            $title .
            '</title><style>
        body{margin:0;background:#EEF1F4;color:#20262B;font:15px/1.45 system-ui,sans-serif}main{max-width:860px;margin:0 auto;padding:24px 16px}
        h1{font-size:20px}
        ul{list-style:none;padding:0;background:#fff;border:1px solid #D5DAE0;border-radius:8px}
        li{border-top:1px solid #E8EBEE}
        li:first-child{border:0}
        li a{display:block;padding:12px 16px;color:inherit;text-decoration:none}
        li a:hover{background:#F6F8FA}
        small{color:#59636D}
        button{font:inherit;padding:6px 12px}
        iframe{width:100%;height:640px;border:1px solid #D5DAE0;border-radius:8px;background:#fff}
        </style><main>' .
            $body .
            '</main></html>',
    );
};

(new HttpServer(static function (Request $request) use ($letters, $smtp, $page): Response {
    if ($request->path === '/api/letters') {
        return Response::json($letters->all());
    }
    if ($request->path === '/away' && $request->method === 'POST') {
        $smtp->away = !$smtp->away;

        return Response::redirect('/');
    }
    if (preg_match('~^/letters/([0-9a-f]{40})(/body)?$~D', $request->path, $part) === 1) {
        $letter = $letters->one($part[1]);
        if ($letter === null) {
            return new Response('There is no such letter', 'text/plain', 404);
        }
        if (isset($part[2])) {
            return new Response(Reader::html((string) base64_decode($letter['data'], true)));
        }

        return $page(
            htmlspecialchars($letter['subject']),
            '<p><a href="/">All letters</a></p><h1>' .
                htmlspecialchars($letter['subject']) .
                '</h1><p><small>from ' .
                htmlspecialchars($letter['from']) .
                ' to ' .
                htmlspecialchars(implode(', ', $letter['to'])) .
                ' · ' .
                date('D H:i:s', intdiv($letter['at'], 1000)) .
                ' UTC · arrived ' .
                $letter['arrivals'] .
                '×</small></p>' .
                '<iframe title="The letter" src="/letters/' .
                $part[1] .
                '/body"></iframe>',
        );
    }
    $rows = '';
    foreach (array_slice($letters->all(), 0, 200) as $letter) {
        $rows .=
            '<li><a href="/letters/' .
            $letter['key'] .
            '"><strong>' .
            htmlspecialchars($letter['subject']) .
            '</strong><br><small>' .
            htmlspecialchars(implode(', ', $letter['to'])) .
            ' · ' .
            date('D H:i:s', intdiv($letter['at'], 1000)) .
            ' UTC' .
            ($letter['arrivals'] > 1 ? " · arrived {$letter['arrivals']}×" : '') .
            '</small></a></li>';
    }

    return $page(
        'Mailbox',
        '<h1>Mailbox of saltmarsh.example</h1><form method="post" action="/away"><button>' .
            ($smtp->away ? 'Come back' : 'Go away for a while') .
            '</button> <small>' .
            ($smtp->away ? 'refusing mail now' : 'taking mail') .
            '</small></form>' .
            ($rows === '' ? '<p>No letters yet.</p>' : "<ul>{$rows}</ul>"),
    );
}))->listen('127.0.0.1:' . $arguments->get('http', '8423'));

<?php

declare(strict_types=1);

// The simulated fleet: --port=PORT --state=FOLDER [--seed=N] [--ahead=SECONDS that its calendar is before ours]
// What is prepared to be done about it arrives at /act, signed: the consumers of a broker are started anew.
// Targets at /t/NAME/metrics, a control page at /, breaking by command: curl -d kind=queue -d target=broker-north localhost:PORT/break

use Olivine\Server\Arguments;
use Olivine\Server\HttpServer;
use Olivine\Server\Request;
use Olivine\Server\Response;
use Olivine\Standin\Fleet\Breaks;
use Olivine\Standin\Fleet\FleetTarget;
use Olivine\Standin\Fleet\Front;
use Olivine\Standin\Fleet\Scenario;
use Olivine\Standin\Outside\Olivine;

require dirname(__DIR__) . '/vendor/autoload.php';

$arguments = Arguments::of($argv, 'The simulated fleet', [
    'port' => 'port of its targets and of its control page',
    'state' => 'folder where it keeps what is broken',
    'seed' => 'number its chance begins with; 7 if not given',
    'secret' => 'what it is asked for with is signed with',
    'ahead' => 'seconds that its calendar is before ours',
]);
$state = $arguments->get('state', sys_get_temp_dir() . '/fleet');
if (!is_dir($state)) {
    mkdir($state, 0o755, true);
}
$targets = (new Scenario((int) $arguments->get('seed', '7')))->targets();
$olivine = new Olivine('', $arguments->get('secret', 'whoever-mends-it-says-so-first'));
$breaks = new Breaks("{$state}/breaks.json");
$front = new Front($breaks);
$now = static fn(): int => time() + (int) $arguments->get('ahead', '0');

$serve = static function (FleetTarget $target) use ($breaks, $now): Response {
    return match (true) {
        $breaks->isOn('down', $target->name) => new Response('', hangUp: true),
        $breaks->isOn('error', $target->name) => new Response("The service is not feeling well\n", 'text/plain', 500),
        $breaks->isOn('garbage', $target->name) => new Response(
            "<html><body>Welcome to nginx? \x01 {{{ not metrics\n",
            $target->contentType(),
        ),
        $breaks->isOn('slow', $target->name) => new Response(
            $target->text($now(), $breaks),
            $target->contentType(),
            afterSeconds: 12.0,
        ),
        default => new Response($target->text($now(), $breaks), $target->contentType()),
    };
};

$control = static function () use ($targets, $breaks): Response {
    $options = implode('', array_map(static fn(string $name): string => "<option>{$name}</option>", [...Front::PLACES, ...array_keys($targets)]));
    $html = '<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Fleet control</title><style>
        body{margin:0;background:#EEF1F4;color:#20262B;font:15px/1.45 system-ui,sans-serif}
        main{max-width:860px;margin:0 auto;padding:24px 16px}
        h1{font-size:20px}
        h2{font-size:16px}
        form{display:inline-block;margin:0 8px 8px 0}
        button,select{font:inherit;padding:6px 10px}
        table{background:#fff;border:1px solid #D5DAE0;border-collapse:collapse;width:100%}
        td{padding:6px 12px;border-top:1px solid #E8EBEE}</style><main>
        <h1>The fleet of Saltmarsh Ferries, simulated</h1><h2>Break something</h2>
        <form method="post" action="/break"><select name="kind" id="kind" aria-label="What">';
    foreach (Breaks::KINDS as $kind => $words) {
        $html .= "<option value=\"{$kind}\">{$words}</option>";
    }
    $html .=
        '</select> on <select name="target" id="target" aria-label="Where"><option>broker-north</option>' .
        $options .
        '</select> <button id="break">Break it</button></form><h2>Broken now</h2>';
    foreach ($breaks->all() as $break) {
        if ($break['to'] === null) {
            $html .=
                "<form method=\"post\" action=\"/heal\"><input type=\"hidden\" name=\"kind\" value=\"{$break['kind']}\">" .
                "<input type=\"hidden\" name=\"target\" value=\"{$break['target']}\"><button>Mend: " .
                Breaks::KINDS[$break['kind']] .
                " on {$break['target']}</button></form>";
        }
    }
    $html .= '<h2>Targets</h2><table>';
    foreach ($targets as $target) {
        $html .=
            "<tr><td><a href=\"/t/{$target->name}/metrics\">{$target->name}</a><td>{$target->labels['service']}<td>{$target->labels['site']}<td>" .
            count($target->signals()) .
            " series<td>every {$target->intervalSeconds} s</tr>";
    }

    return new Response($html . '</table></main></html>');
};

$act = static function (Request $request) use ($olivine, $breaks, $targets, $now): Response {
    $refusal = $olivine->refusal($request);
    if ($refusal !== null) {
        return new Response("{$refusal}\n", 'text/plain', 401);
    }
    $asked = json_decode($request->body, true);
    $labels = is_array($asked) && is_array($asked['labels'] ?? null) ? $asked['labels'] : [];
    $name = is_string($labels['broker'] ?? null) ? $labels['broker'] : $labels['target'] ?? '';
    if (!is_string($name) || !isset($targets[$name])) {
        return new Response("Nothing here is called so\n", 'text/plain', 422);
    }
    $wasBroken = $breaks->isOn('queue', $name);
    $breaks->heal('queue', $name, $now());

    return Response::json(['exit' => 0, 'output' => $wasBroken ? "3 consumers of {$name} started anew" : "the consumers of {$name} ran, and run on"]);
};

(new HttpServer(static function (Request $request) use ($targets, $breaks, $front, $now, $serve, $control, $act): Response {
    if ($request->path === '/act' && $request->method === 'POST') {
        return $act($request);
    }
    if (preg_match('~^/t/([a-z0-9-]+)/metrics$~D', $request->path, $part) === 1 && isset($targets[$part[1]])) {
        return $serve($targets[$part[1]]);
    }
    if (($request->path === '/break' || $request->path === '/heal') && $request->method === 'POST') {
        $form = $request->form();
        $isThere = isset($targets[$form['target'] ?? '']) || in_array($form['target'] ?? '', Front::PLACES, true);
        if (!isset(Breaks::KINDS[$form['kind'] ?? '']) || !$isThere) {
            return new Response("kind and target are needed\n", 'text/plain', 422);
        }
        $request->path === '/break'
            ? $breaks->start($form['kind'], $form['target'], $now())
            : $breaks->heal($form['kind'], $form['target'], $now());

        return Response::redirect('/');
    }

    return $front->answer($request, $now()) ?? match ($request->path) {
        '/' => $control(),
        '/targets' => Response::json(
            array_values(
                array_map(
                    static fn(FleetTarget $target): array => [
                        'name' => $target->name,
                        'path' => "/t/{$target->name}/metrics",
                        'intervalSeconds' => $target->intervalSeconds,
                        'labels' => $target->labels,
                    ],
                    $targets,
                ),
            ),
        ),
        default => new Response("Nothing here\n", 'text/plain', 404),
    };
}))->listen('127.0.0.1:' . $arguments->get('port', '8422'));

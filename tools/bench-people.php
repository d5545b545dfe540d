<?php

declare(strict_types=1);

// Twenty people who look at a running Olivine for a while, as its pages do: php tools/bench-people.php [ADDRESS] [MINUTES].
// Each has Watch renewed every five seconds and opens a page or a chart now and then. Prints once a minute how long answers took.

use Symfony\Component\HttpClient\CurlHttpClient;

require dirname(__DIR__) . '/vendor/autoload.php';

const PEOPLE = 20;
const WATCH_EVERY_SECONDS = 5.0;
const LOOK_EVERY_SECONDS = 8.0;

$client = new CurlHttpClient(['base_uri' => $argv[1] ?? 'http://127.0.0.1:8420', 'timeout' => 60], PEOPLE * 2);
$cookies = [];
for ($person = 0; $person < PEOPLE; ++$person) {
    $answer = $client->request('POST', '/api/session', [
        'json' => ['email' => 'viewer@saltmarsh.example', 'password' => 'salt-and-marsh'],
    ]);
    $cookies[] = explode(';', $answer->getHeaders()['set-cookie'][0])[0];
}
$metrics = array_column($client->request('GET', '/api/metrics', ['headers' => ['Cookie' => $cookies[0]]])->toArray(), 'name');
$targets = array_column($client->request('GET', '/api/targets', ['headers' => ['Cookie' => $cookies[0]]])->toArray(), 'id');
mt_srand(1);
$look = static function () use ($metrics, $targets): string {
    $metric = $metrics[mt_rand(0, count($metrics) - 1)];
    $formula = [
        $metric,
        "mean({$metric}, 5m)",
        "max(max({$metric}, 1h)) per target",
        "quantile(0.95, {$metric}, 15m)",
        "outlier({$metric}) per service",
    ][mt_rand(0, 4)];
    $hours = [1, 6, 24, 24 * 7, 24 * 14][mt_rand(0, 4)];
    $chart = 'from=' . (time() - $hours * 3_600) * 1_000 . '&formula=' . rawurlencode($formula);

    return [
        '/api/targets',
        '/api/metrics',
        '/api/cost',
        '/api/rules',
        '/api/retention',
        '/api/targets/' . $targets[mt_rand(0, count($targets) - 1)] . '/page',
        "/api/metrics/labels?metric={$metric}",
        "/api/chart?points=700&{$chart}",
        "/api/chart?points=700&{$chart}",
        "/api/chart/usual?points=120&{$chart}",
    ][mt_rand(0, 9)];
};
$due = [];
for ($person = 0; $person < PEOPLE; ++$person) {
    foreach (['watch' => WATCH_EVERY_SECONDS, 'look' => LOOK_EVERY_SECONDS] as $kind => $every) {
        $due["{$person} {$kind}"] = microtime(true) + ($every * mt_rand()) / mt_getrandmax();
    }
}
$until = microtime(true) + 60 * (float) ($argv[2] ?? 60);
$told = microtime(true);
$running = $took = $refused = [];
while (microtime(true) < $until || $running !== []) {
    $now = microtime(true);
    foreach ($now < $until ? $due : [] as $who => $at) {
        if ($at <= $now && !isset($running[$who])) {
            [$person, $kind] = explode(' ', $who);
            $running[$who] = $client->request('GET', $kind === 'watch' ? '/api/watch' : $look(), [
                'headers' => ['Cookie' => $cookies[(int) $person]],
                'user_data' => $who,
            ]);
            $due[$who] = $now + ($kind === 'watch' ? WATCH_EVERY_SECONDS : LOOK_EVERY_SECONDS);
        }
    }
    $running === [] && usleep(50_000);
    foreach ($client->stream($running, 0.05) as $response => $chunk) {
        if ($chunk->isTimeout()) {
            break;
        }
        if ($chunk->isFirst()) {
            $response->getStatusCode();
        }
        if ($chunk->isLast()) {
            $took[] = (float) $response->getInfo('total_time') * 1_000;
            $response->getStatusCode() === 200 ||
                ($refused[$response->getStatusCode()] = ($refused[$response->getStatusCode()] ?? 0) + 1);
            unset($running[(string) $response->getInfo('user_data')]);
        }
    }
    if (microtime(true) - $told > 60 && $took !== []) {
        sort($took);
        printf(
            "%s  %d answers, median %.0f ms, p95 %.0f ms, longest %.0f ms%s\n",
            gmdate('H:i:s'),
            count($took),
            $took[intdiv(count($took), 2)],
            $took[(int) (0.95 * (count($took) - 1))],
            end($took),
            $refused === [] ? '' : ', refused ' . json_encode($refused),
        );
        $told = microtime(true);
        $took = $refused = [];
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Symfony\Component\HttpClient\CurlHttpClient;
use Symfony\Contracts\HttpClient\ResponseInterface;

/** Each read of the API on the demo's data, asked by 20 people at once, signed in and over HTTP. */
final readonly class WebMeasure implements Measure
{
    private const PEOPLE = 20;
    private const ROUNDS = 6;
    private const READS = [
        'watch' => '/api/watch', 'targets' => '/api/targets', 'target_page' => '/api/targets/3/page', 'groups' => '/api/groups', 'cost' => '/api/cost', 'retention' => '/api/retention',
        'metrics' => '/api/metrics', 'labels' => '/api/metrics/labels?metric=messaging_queue_depth', 'functions' => '/api/formula/functions',
        'chart_6h' => '/api/chart?formula=mean(messaging_queue_depth%20where%20queue%20%3D%20%22boarding%22%2C%205m)&from=-21600&points=700',
        'usual_6h' => '/api/chart/usual?formula=mean(messaging_queue_depth%20where%20queue%20%3D%20%22boarding%22%2C%205m)&from=-21600&points=120',
        'incident' => '/api/incidents/1', 'limits' => '/api/limits',
        'rules' => '/api/rules', 'rule' => '/api/rules/1', 'people' => '/api/people', 'session' => '/api/session',
    ];

    public function __construct(private RunningInstance $demo)
    {
    }

    public function name(): string
    {
        return 'web';
    }

    public function run(callable $say): void
    {
        $client = new CurlHttpClient(['base_uri' => $this->demo->address(), 'timeout' => 60], self::PEOPLE);
        $cookies = [];
        for ($i = 0; $i < self::PEOPLE; ++$i) {
            $cookies[] = $this->signIn($client);
        }
        $all = [];
        $worst = [0.0, ''];
        foreach (self::READS as $name => $path) {
            $path = str_replace('from=-21600', 'from=' . (time() - 21_600) * 1000, $path);
            $times = [];
            // Each person asks again as soon as the answer is there.
            $start = static fn(int $person): ResponseInterface => $client->request('GET', $path, ['headers' => ['Cookie' => $cookies[$person]], 'user_data' => $person]);
            $left = array_fill(0, self::PEOPLE, self::ROUNDS);
            $running = array_map($start, range(0, self::PEOPLE - 1));
            while ($running !== []) {
                foreach ($client->stream($running) as $response => $chunk) {
                    if (!$chunk->isLast()) {
                        continue;
                    }
                    if ($response->getStatusCode() !== 200) {
                        throw new \RuntimeException("{$path} answered {$response->getStatusCode()}");
                    }
                    $times[] = (float) $response->getInfo('total_time') * 1000;
                    $person = (int) $response->getInfo('user_data');
                    $running = array_values(array_filter($running, static fn(ResponseInterface $one): bool => $one !== $response));
                    if (--$left[$person] > 0) {
                        $running[] = $start($person);
                    }
                    break;
                }
            }
            sort($times);
            $p95 = $times[(int) (0.95 * (count($times) - 1))];
            $say("web.p95.{$name}", $p95, 'ms');
            array_push($all, ...$times);
            $worst = $p95 > $worst[0] ? [$p95, $name] : $worst;
        }
        sort($all);
        $say('web.p95', $all[(int) (0.95 * (count($all) - 1))], 'ms');
        $say("web.p95_worst ({$worst[1]})", $worst[0], 'ms');
        // The same read by one person alone: what there is no waiting in.
        $times = [];
        for ($i = 0; $i < 30; ++$i) {
            $response = $client->request('GET', self::READS['watch'], ['headers' => ['Cookie' => $cookies[0]]]);
            $response->getContent();
            $times[] = (float) $response->getInfo('total_time') * 1000;
        }
        sort($times);
        $say('web.baseline_watch_alone', $times[intdiv(count($times), 2)], 'ms');
    }

    private function signIn(CurlHttpClient $client): string
    {
        $response = $client->request('POST', '/api/session', ['json' => ['email' => 'viewer@saltmarsh.example', 'password' => 'salt-and-marsh']]);
        if ($response->getStatusCode() !== 200) {
            throw new \RuntimeException('Signing in to the demo failed: ' . $response->getContent(false));
        }

        return explode(';', $response->getHeaders()['set-cookie'][0])[0];
    }
}

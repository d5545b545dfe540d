<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Olivine\App\Platform\Scalar;

/** Each read of the API on the demo's data, asked by 20 people at once, signed in and over HTTP. */
final readonly class WebMeasure implements Measure
{
    private const PEOPLE = 20;
    private const ROUNDS = 6;
    private const READS = [
        'watch' => '/api/watch',
        'targets' => '/api/targets',
        'target_page' => '/api/targets/3/page',
        'groups' => '/api/groups',
        'cost' => '/api/cost',
        'retention' => '/api/retention',
        'metrics' => '/api/metrics',
        'labels' => '/api/metrics/labels?metric=messaging_queue_depth',
        'functions' => '/api/formula/functions',
        'chart_6h' =>
            '/api/chart?formula=mean(messaging_queue_depth%20where%20queue%20%3D%20%22boarding%22%2C%205m)&from=-21600&points=700',
        // A formula that nobody else looks at, so that nothing of it is shared.
        'chart_own_6h' =>
            '/api/chart?formula=mean(messaging_queue_depth%20where%20queue%20%3D%20%22boarding%22%2C%205m)%20%2B%20{person}&from=-21600&points=700',
        'usual_6h' =>
            '/api/chart/usual?formula=mean(messaging_queue_depth%20where%20queue%20%3D%20%22boarding%22%2C%205m)&from=-21600&points=120',
        'incident' => '/api/incidents/1',
        'limits' => '/api/limits',
        'rules' => '/api/rules',
        'rule' => '/api/rules/1',
        'people' => '/api/people',
        'session' => '/api/session',
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
        $people = array_map(fn(): \CurlHandle => $this->signedIn(), range(1, self::PEOPLE));
        $all = [];
        $ofRead = [];
        foreach (self::READS as $name => $path) {
            $times = $this->together($people, str_replace('from=-21600', 'from=' . (time() - 21_600) * 1000, $path));
            $ofRead[$name] = self::share($times, 0.95);
            $say("web.p95.{$name}", $ofRead[$name], 'ms');
            array_push($all, ...$times);
        }
        $p95 = self::share($all, 0.95);
        arsort($ofRead);
        $worst = array_key_first($ofRead);
        $lightest = end($ofRead);
        $say('web.p95', $p95, 'ms');
        $say("web.p95_worst ({$worst})", $ofRead[$worst], 'ms');
        // What a read takes on this machine at this hour before it does anything much.
        $say('web.baseline_lightest (' . array_key_last($ofRead) . ')', $lightest, 'ms');
        $say('web.ratio', $p95 / $lightest, '×');
        // The same read by one person alone: what there is no waiting in.
        $alone = array_map(fn(): float => $this->together([$people[0]], self::READS['watch'], 1)[0], range(1, 30));
        $say('web.baseline_watch_alone', self::share($alone, 0.5), 'ms');
    }

    /**
     * Each person asks again as soon as the answer is there. The people share the machine with what they measure, so they
     * are as light as they can be.
     *
     * @param list<\CurlHandle> $people
     *
     * @return list<float> how long each answer took, in milliseconds
     */
    private function together(array $people, string $path, int $rounds = self::ROUNDS): array
    {
        $all = curl_multi_init();
        $left = [];
        foreach ($people as $i => $person) {
            $url = $this->demo->address() . str_replace('{person}', (string) $i, $path);
            \assert($url !== '');
            curl_setopt($person, CURLOPT_URL, $url);
            curl_setopt($person, CURLOPT_PRIVATE, (string) $i);
            curl_multi_add_handle($all, $person);
            $left[$i] = $rounds;
        }
        $times = [];
        while ($left !== []) {
            curl_multi_exec($all, $running);
            while (($done = curl_multi_info_read($all)) !== false) {
                $person = $done['handle'];
                \assert($person instanceof \CurlHandle);
                curl_getinfo($person, CURLINFO_RESPONSE_CODE) === 200
                    || throw new \RuntimeException(
                        "{$path} answered " . curl_getinfo($person, CURLINFO_RESPONSE_CODE) . ' ' . curl_error($person),
                    );
                $times[] = curl_getinfo($person, CURLINFO_TOTAL_TIME) * 1000;
                curl_multi_remove_handle($all, $person);
                $i = Scalar::int(curl_getinfo($person, CURLINFO_PRIVATE));
                if (--$left[$i] > 0) {
                    curl_multi_add_handle($all, $person);
                } else {
                    unset($left[$i]);
                }
            }
            if ($running !== 0) {
                curl_multi_select($all, 1.0);
            }
        }

        return $times;
    }

    /** @param list<float> $times */
    private static function share(array $times, float $share): float
    {
        sort($times);

        return $times[(int) ($share * (count($times) - 1))];
    }

    private function signedIn(): \CurlHandle
    {
        $person = curl_init();
        curl_setopt_array($person, [
            CURLOPT_RETURNTRANSFER => true,
            CURLOPT_COOKIEFILE => '',
            CURLOPT_TIMEOUT => 60,
            CURLOPT_URL => "{$this->demo->address()}/api/session",
            CURLOPT_HTTPHEADER => ['Content-Type: application/json'],
            CURLOPT_POSTFIELDS => '{"email":"viewer@saltmarsh.example","password":"salt-and-marsh"}',
        ]);
        $answer = curl_exec($person);
        curl_getinfo($person, CURLINFO_RESPONSE_CODE) === 200
            || throw new \RuntimeException('Signing in to the demo failed: ' . $answer . curl_error($person));
        curl_setopt_array($person, [CURLOPT_HTTPGET => true, CURLOPT_HTTPHEADER => []]);

        return $person;
    }
}

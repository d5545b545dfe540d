<?php

declare(strict_types=1);

// The jobs of the ferry line, which report when they run: --state=FOLDER with addresses.json in it (name → where it reports)
// With --from=SECOND --to=SECOND it writes how they ran then instead: a JSON object a line.
// A file named skip in the folder keeps the job whose name is in it from running; one named fail lets it fail.

use Olivine\Server\Arguments;
use Olivine\Standin\Fleet\TimedJob;

require dirname(__DIR__) . '/vendor/autoload.php';

const DAY_SECONDS = 86_400;

$arguments = Arguments::of($argv, 'The jobs of the ferry line', [
    'state' => 'folder with the addresses at which they report',
    'from' => 'second from which on to write how they ran',
    'to' => 'second until which',
]);
$jobs = TimedJob::all();
$to = (int) $arguments->get('to', '0');
$from = (int) $arguments->get('from', (string) $to);
for ($second = $from - $from % 60 + 2; $second < $to; $second += 60) {
    foreach ($jobs as $job) {
        // Of late all went well: what goes wrong now is broken by hand.
        $goesWrong = $second < $to - DAY_SECONDS;
        if ($job->beginsAt($second) && !($goesWrong && $job->isMissed($second))) {
            $run = [
                'job' => $job->name,
                'began' => $second,
                'ended' => $second + $job->seconds($second, $goesWrong),
                'wrong' => $goesWrong ? $job->wrong($second) : '',
            ];
            echo json_encode($run, JSON_THROW_ON_ERROR), "\n";
        }
    }
}
if ($to > 0) {
    exit(0);
}
$state = $arguments->get('state', sys_get_temp_dir() . '/jobs');
$report = static function (string $job, string $what, string $about, string $output) use ($state): bool {
    $addresses = json_decode((string) @file_get_contents("{$state}/addresses.json"), true);
    $address = is_array($addresses) ? $addresses[$job] ?? null : null;
    if (!is_string($address)) {
        return false;
    }
    $context = stream_context_create(['http' => ['method' => 'POST', 'header' => 'Content-Type: text/plain', 'content' => $output, 'timeout' => 5.0]]);

    return @file_get_contents("{$address}/{$what}?{$about}", false, $context) !== false;
};
/** What it counted is handed in beside, for nobody could ask it: it is over. */
$handIn = static function (string $job, int $began) use ($state): void {
    $addresses = json_decode((string) @file_get_contents("{$state}/addresses.json"), true);
    $token = trim((string) @file_get_contents("{$state}/token"));
    $at = is_array($addresses) && is_string($addresses[$job] ?? null) ? parse_url($addresses[$job]) : false;
    if ($token === '' || $at === false) {
        return;
    }
    $counted = [
        'tide_forecasts_imported' => 240 + 48 * ($began % 3),
        'tide_forecast_ahead_seconds' => ['value' => 172_800 - $began % 3_600, 'unit' => 'seconds'],
    ];
    $to = sprintf('%s://%s:%d/api/pushed/%s?seconds=3600', $at['scheme'] ?? 'http', $at['host'] ?? '', $at['port'] ?? 80, rawurlencode("{$job} counts"));
    @file_get_contents($to, false, stream_context_create(['http' => [
        'method' => 'POST',
        'header' => "Content-Type: application/json\r\nAuthorization: Bearer {$token}",
        'content' => json_encode($counted, JSON_THROW_ON_ERROR),
        'timeout' => 5.0,
    ]]));
};
$running = [];
for ($second = time(); ; ++$second) {
    while (time() < $second) {
        usleep(100_000);
    }
    $named = static fn(string $file): string => trim((string) @file_get_contents("{$state}/{$file}"));
    foreach ($jobs as $job) {
        if ($job->beginsAt($second) && $job->name !== $named('skip') && $report($job->name, 'began', "run={$second}", '')) {
            $running[] = [$job, $second];
        }
    }
    foreach ($running as $i => [$job, $began]) {
        if ($second >= $began + $job->seconds($began, false)) {
            $fails = $job->name === $named('fail');
            $report($job->name, $fails ? 'failed' : 'ended', "run={$began}&exit=" . ($fails ? 4 : 0), $fails ? "it was told to fail\n" : "done\n");
            if (!$fails && $job->name === 'tide import') {
                $handIn($job->name, $began);
            }
            unset($running[$i]);
        }
    }
}

<?php

declare(strict_types=1);

// Writes what the fleet would have answered over a past span: --from=SECOND --to=SECOND [--share=0/2] [--seed=N] [--ahead=SECONDS]
//
// For each target one line of JSON ({target, form, text, firstMs, stepMs, count}; the text is its exposition at the
// first instant), then a column for each sample of that text, in its order: count little-endian doubles.

use Olivine\Server\Arguments;
use Olivine\Standin\Fleet\Breaks;
use Olivine\Standin\Fleet\Scenario;

require dirname(__DIR__) . '/vendor/autoload.php';

$arguments = Arguments::of($argv, 'What the simulated fleet would have answered over a past span', [
    'from' => 'second it begins at',
    'to' => 'second it ends at',
    'share' => 'which of how many shares of the targets, such as 0/2',
    'seed' => 'number its chance begins with; 7 if not given',
    'ahead' => 'seconds that its calendar is before ours',
]);
$from = (int) $arguments->get('from', '0');
$to = (int) $arguments->get('to', '0');
[$share, $shares] = array_map(intval(...), explode('/', $arguments->get('share', '0/1')));
$ahead = (int) $arguments->get('ahead', '0');
$breaks = Breaks::none();
$number = 0;
foreach ((new Scenario((int) $arguments->get('seed', '7')))->targets() as $target) {
    if ($number++ % $shares !== $share) {
        continue;
    }
    $step = $target->intervalSeconds;
    $instants = range($from + (crc32($target->name) % $step), $to, $step);
    echo json_encode(
        [
            'target' => $target->name,
            'contentType' => $target->contentType(),
            'text' => $target->text($instants[0] + $ahead, $breaks),
            'firstMs' => $instants[0] * 1000,
            'stepMs' => $step * 1000,
            'count' => count($instants),
        ],
        JSON_THROW_ON_ERROR,
    ),
    "\n";
    foreach ($target->signals() as $signal) {
        $value = $signal->value;
        $column = [];
        foreach ($instants as $second) {
            $column[] = $value($second + $ahead, $breaks);
        }
        echo pack('e*', ...$column);
    }
}

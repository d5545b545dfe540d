<?php

declare(strict_types=1);

// Runs a command and reports when it begins and how it ends: php agent/run.php --to=ADDRESS -- COMMAND [ARGUMENT...]
// Needs nothing but PHP and the two files beside it. What cannot be told now is told later, from /var/tmp or OLIVINE_REPORTS.

use Olivine\Agent\ReportedCommand;
use Olivine\Agent\Reports;

require __DIR__ . '/Reports.php';
require __DIR__ . '/ReportedCommand.php';

const HELP = <<<'TEXT'
bin/olivine run --to=ADDRESS -- COMMAND [ARGUMENT...]
bin/olivine run --job=NAME -- COMMAND [ARGUMENT...]

Runs a command and reports when it begins and how it ends. Its output passes through and its exit code is passed on, whether or not
it can be reported; what cannot be told now is told later.

  --to=ADDRESS   where the job reports, as its page under Fleet, Jobs shows it
  --job=NAME     a job of the instance on this machine

TEXT;

$split = array_search('--', $argv, true);
$options = array_slice($argv, 1, ($split === false ? count($argv) : $split) - 1);
$command = $split === false ? [] : array_slice($argv, $split + 1);
$address = '';
foreach ($options as $option) {
    if (preg_match('~^--to=(https?://\S+)$~D', $option, $part) !== 1) {
        fwrite(STDERR, $option === '--help' ? HELP : "There is no argument {$option}.\n\n" . HELP);
        exit($option === '--help' ? 0 : 2);
    }
    $address = rtrim($part[1], '/');
}
if ($address === '' || $command === []) {
    fwrite(STDERR, ($address === '' ? "Where it reports is missing.\n\n" : "The command is missing; it stands behind --.\n\n") . HELP);
    exit(2);
}
$reports = Reports::ofUser();
$code = (new ReportedCommand($reports, $address))->run(array_values($command));
if (!$reports->isEmpty()) {
    $child = function_exists('pcntl_fork') ? pcntl_fork() : -1;
    if ($child === 0) {
        // Whoever waits for the command waits for its output too: let go of both.
        posix_setsid();
        fclose(STDIN);
        fclose(STDOUT);
        fclose(STDERR);
        $reports->tellKept();
        exit(0);
    }
}
exit($code);

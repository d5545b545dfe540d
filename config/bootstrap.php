<?php

declare(strict_types=1);

// Which instance this process belongs to, and that instance's settings: the supervisor hands them down,
// a command typed by hand reads them from the instance's own env file.

use Symfony\Component\Dotenv\Dotenv;

require_once dirname(__DIR__) . '/vendor/autoload.php';

$instance = $_SERVER['OLIVINE_INSTANCE'] ?? (getenv('OLIVINE_INSTANCE') ?: 'demo');
$stateDir = $_SERVER['OLIVINE_STATE_DIR'] ?? (getenv('OLIVINE_STATE_DIR') ?: dirname(__DIR__) . '/var/' . $instance);
$_SERVER['OLIVINE_INSTANCE'] = $_ENV['OLIVINE_INSTANCE'] = $instance;
$_SERVER['OLIVINE_STATE_DIR'] = $_ENV['OLIVINE_STATE_DIR'] = $stateDir;
// Where a part keeps what only it may read.
$_SERVER['OLIVINE_WORK_DIR'] = $_ENV['OLIVINE_WORK_DIR'] =
    $_SERVER['OLIVINE_WORK_DIR'] ?? (getenv('OLIVINE_WORK_DIR') ?: $stateDir . '/work');
$dotenv = (new Dotenv())->usePutenv();
$dotenv->load(dirname(__DIR__) . '/.env');
if (is_readable($stateDir . '/env')) {
    $dotenv->overload($stateDir . '/env');
}

<?php

declare(strict_types=1);

// Takes a picture of a page of the running demo: php tools/shot.php PATH FILE [WIDTH HEIGHT] [dark] [js=…]

use Olivine\Tests\Browser\Browser;

require dirname(__DIR__) . '/vendor/autoload.php';

$browser = new Browser(getenv('OLIVINE_ADDRESS') ?: 'http://127.0.0.1:8420');
try {
    $browser->signIn(getenv('OLIVINE_EMAIL') ?: 'admin@saltmarsh.example', 'salt-and-marsh');
    $browser->resize((int) ($argv[3] ?? 1280), (int) ($argv[4] ?? 800));
    if (in_array('dark', $argv, true)) {
        $browser->driver->executeScript("localStorage.setItem('theme', 'dark')");
    }
    foreach (explode(',', $argv[1]) as $i => $path) {
        $browser->go($path);
        usleep(2_500_000);
        foreach ($argv as $argument) {
            if (str_starts_with($argument, 'js=')) {
                $browser->driver->executeScript(substr($argument, 3));
                usleep(1_200_000);
            }
        }
        $browser->shot(explode(',', $argv[2])[$i]);
        echo implode("\n", $browser->consoleErrors());
    }
} finally {
    $browser->close();
}

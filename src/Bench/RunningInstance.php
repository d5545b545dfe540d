<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\DriverManager;
use Doctrine\DBAL\Tools\DsnParser;
use Olivine\App\Supervise\Instance;
use Symfony\Component\Dotenv\Dotenv;

/** The demo that runs beside: some figures only mean something on its data. */
final readonly class RunningInstance
{
    public function __construct(private Instance $instance)
    {
    }

    public function connect(): Connection
    {
        return DriverManager::getConnection((new DsnParser(['mysql' => 'pdo_mysql']))->parse($this->settings()['DATABASE_URL']));
    }

    public function address(): string
    {
        return $this->settings()['OLIVINE_PUBLIC_URL'];
    }

    /** @return array<string, string> */
    private function settings(): array
    {
        $file = $this->instance->projectDir() . '/var/' . (getenv('OLIVINE_BENCH_OF') ?: 'demo') . '/env';
        if (!is_readable($file)) {
            throw new \RuntimeException('This is measured on the demo: start it first with bin/olivine demo');
        }
        /** @var array<string, string> $settings */
        $settings = (new Dotenv())->parse((string) file_get_contents($file));

        return $settings;
    }
}

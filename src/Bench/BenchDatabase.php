<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\DriverManager;
use Olivine\App\Platform\Database;
use Olivine\App\Supervise\Instance;
use Olivine\App\Supervise\Parts;
use Olivine\App\Supervise\Ports;
use Olivine\App\Supervise\RunningPart;
use Olivine\Migrations\TableFile;
use Symfony\Component\Process\Process;

/** A MariaDB of its own, with the settings of an instance and empty tables, for as long as something is measured. */
final readonly class BenchDatabase
{
    private const INSTANCE = 'bench';

    public function __construct(private Instance $instance, private Parts $parts)
    {
    }

    /**
     * @param callable(Database): void $work
     *
     * @throws \LogicException where the instance is not the bench's own: its database is thrown away
     */
    public function with(callable $work): void
    {
        if ($this->instance->name() !== self::INSTANCE) {
            throw new \LogicException("The bench throws away its database, and this is that of {$this->instance->name()}; use bin/olivine bench");
        }
        $this->instance->prepare(new Ports((int) (getenv('OLIVINE_BENCH_PORT') ?: 8920)), false, 10, 0, mayAsk: 'loopback');
        $folder = $this->parts->databaseFolder();
        (new Process(['rm', '-rf', $folder->tables]))->mustRun();
        $folder->prepare();
        (new Process($folder->fill(), timeout: 120))->mustRun();
        $server = new RunningPart($this->parts->database(), $this->instance, [
            'PATH' => (string) getenv('PATH'),
            'OLIVINE_SUPERVISED' => $this->instance->dir,
        ]);
        try {
            while (!$server->isReady()) {
                $server->keepRunning();
                usleep(50_000);
            }
            $work(new Database($this->connect()));
        } finally {
            $server->signal();
            $server->awaitEnd();
        }
    }

    private function connect(): Connection
    {
        $connection = DriverManager::getConnection([
            'driver' => 'pdo_mysql',
            'unix_socket' => $this->parts->socket(),
            'user' => 'root',
            'driverOptions' => [\PDO::MYSQL_ATTR_LOCAL_INFILE => true],
        ]);
        $connection->executeStatement('SET GLOBAL local_infile = 1');
        $connection->executeStatement('CREATE DATABASE olivine CHARACTER SET utf8mb4');
        $connection->executeStatement('USE olivine');
        $password = $connection->quote($this->instance->env()['OLIVINE_DB_PASSWORD']);
        $connection->executeStatement("GRANT ALL ON olivine.* TO olivine@'127.0.0.1' IDENTIFIED BY {$password}");
        foreach (TableFile::all() as $statement) {
            $connection->executeStatement($statement);
        }

        return $connection;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Kernel;
use Olivine\App\Platform\Database;
use Olivine\Migrations\TableFile;
use Symfony\Component\DependencyInjection\ContainerInterface;
use Symfony\Component\Process\Process;

/** The running test instance: its kernel, its database, its addresses. Started by tests/run.php. */
final class Instance
{
    private static ?Kernel $kernel = null;
    /** @var list<Connection> */
    private static array $connections = [];

    public static function kernel(): Kernel
    {
        if (self::$kernel === null) {
            require_once dirname(__DIR__, 2) . '/config/bootstrap.php';
            self::$kernel = new Kernel('prod', false);
            self::$kernel->boot();
        }

        return self::$kernel;
    }

    public static function container(): ContainerInterface
    {
        return self::kernel()->getContainer();
    }

    /** The entity managers of this process, open and knowing nothing, whatever the test before did with them. */
    public static function managers(): ManagerRegistry
    {
        $managers = self::container()->get('doctrine');
        \assert($managers instanceof ManagerRegistry);
        $manager = self::manager($managers);
        $manager->isOpen() ? $manager->clear() : $managers->resetManager();

        return $managers;
    }

    public static function manager(ManagerRegistry $managers): EntityManagerInterface
    {
        $manager = $managers->getManager();
        \assert($manager instanceof EntityManagerInterface);

        return $manager;
    }

    /**
     * A connection of its own to the instance's database.
     *
     * @param class-string<Connection> $class
     */
    public static function connect(string $class = PatientConnection::class): Connection
    {
        self::kernel();
        $parameters = (new \Doctrine\DBAL\Tools\DsnParser(['mysql' => 'pdo_mysql']))->parse((string) $_SERVER['DATABASE_URL']);

        return self::$connections[] = \Doctrine\DBAL\DriverManager::getConnection($parameters + ['wrapperClass' => $class]);
    }

    /** An empty database beside the instance's, with the same tables: for tests of the store alone. */
    public static function emptyDatabase(string $name): Database
    {
        $connection = self::connect();
        $connection->executeStatement("DROP DATABASE IF EXISTS olivine_{$name}");
        $connection->executeStatement("CREATE DATABASE olivine_{$name} CHARACTER SET utf8mb4");
        $connection->executeStatement("USE olivine_{$name}");
        foreach (TableFile::all() as $statement) {
            $connection->executeStatement($statement);
        }

        return new Database($connection);
    }

    /** A state folder for processes that work on such a database. */
    public static function stateDirFor(string $name): string
    {
        $dir = "{$_SERVER['OLIVINE_STATE_DIR']}/beside-{$name}";
        if (!is_dir($dir)) {
            mkdir($dir, 0o777, true);
        }
        $settings = (string) file_get_contents("{$_SERVER['OLIVINE_STATE_DIR']}/env");
        file_put_contents("{$dir}/env", preg_replace('~^(DATABASE_URL=[^\n]*/olivine)\b~m', "\\1_{$name}", $settings));

        return $dir;
    }

    public static function port(int $offset): int
    {
        self::kernel();

        return (int) $_SERVER['OLIVINE_PORT'] + $offset;
    }

    public static function web(): string
    {
        return 'http://127.0.0.1:' . self::port(0);
    }

    public static function fleet(string $path, string $kind, string $target): void
    {
        $context = stream_context_create([
            'http' => [
                'method' => 'POST',
                'header' => 'Content-Type: application/x-www-form-urlencoded',
                'content' => http_build_query(['kind' => $kind, 'target' => $target]),
                'follow_location' => 0,
                'ignore_errors' => true,
            ],
        ]);
        file_get_contents('http://127.0.0.1:' . self::port(2) . $path, false, $context);
    }

    /**
     * Whatever the hour: Ines is on call at the piers and for the rest until that is let go of.
     *
     * @return \Closure(): void lets go of it
     */
    public static function withInesOnCall(): \Closure
    {
        $admin = new Client('admin@saltmarsh.example');
        $people = array_column($admin->send('GET', '/api/people')[1], 'id', 'email');
        $covers = [];
        foreach ($admin->send('GET', '/api/rosters')[1]['rosters'] as $roster) {
            $now = new \DateTimeImmutable('now', new \DateTimeZone($roster['zone']));
            $hours = ['from' => $now->format('Y-m-d H:i'), 'to' => $now->modify('+3 hours')->format('Y-m-d H:i')];
            foreach (array_diff_key($people, ['ines@saltmarsh.example' => 0]) as $other) {
                $wanted = ['person' => $people['ines@saltmarsh.example'], 'for' => $other, 'set' => true] + $hours;
                [$status, $cover] = $admin->send('POST', "/api/rosters/{$roster['id']}/covers", $wanted);
                // Nobody covers for who is not on call then.
                $covers = $status === 201 ? [...$covers, $cover['id']] : $covers;
            }
        }

        return static function () use ($admin, $covers): void {
            foreach ($covers as $id) {
                $admin->send('DELETE', "/api/covers/{$id}", []);
            }
        };
    }

    /** @return list<array{messageId: string, subject: string, to: list<string>, arrivals: int, data: string, at: int}> newest first */
    public static function letters(): array
    {
        return json_decode((string) file_get_contents('http://127.0.0.1:' . self::port(3) . '/api/letters'), true, 16, JSON_THROW_ON_ERROR);
    }

    /** @return list<array<string, mixed>> what the sink was told, newest first */
    public static function events(): array
    {
        return json_decode((string) file_get_contents('http://127.0.0.1:' . self::port(7) . '/api/events'), true, 32, JSON_THROW_ON_ERROR);
    }

    /** @return list<array<string, mixed>> what a stand-in was told, newest first: of the phones (8), the chat (9), the desk (10) */
    public static function told(int $offset): array
    {
        $of = [8 => 'phone', 9 => 'said', 10 => 'tickets'][$offset];

        return json_decode((string) file_get_contents('http://127.0.0.1:' . self::port($offset) . "/api/{$of}"), true, 16, JSON_THROW_ON_ERROR);
    }

    /** @param array<string, string> $form as its page would send it */
    public static function press(int $offset, string $path, array $form): void
    {
        file_get_contents('http://127.0.0.1:' . self::port($offset) . $path, false, stream_context_create([
            'http' => [
                'method' => 'POST',
                'header' => 'Content-Type: application/x-www-form-urlencoded',
                'content' => http_build_query($form),
                'follow_location' => 0,
                'ignore_errors' => true,
            ],
        ]));
    }

    /**
     * What all share, such as the draft of who hears, is one test's at a time, whichever of those that run side by side it is of.
     *
     * @return \Closure(): void lets go of it
     */
    public static function alone(string $what): \Closure
    {
        $file = fopen(sys_get_temp_dir() . '/olivine-' . self::port(0) . "-{$what}", 'c');
        $file !== false && flock($file, LOCK_EX) || throw new \RuntimeException("{$what} cannot be had alone");

        return static function () use ($file): void {
            fclose($file);
        };
    }

    /**
     * Waits until it holds.
     *
     * @param float $seconds that it takes on an idle machine
     */
    public static function eventually(callable $holds, float $seconds, string $what): void
    {
        $patience = self::patience($seconds);
        $until = microtime(true) + $patience;
        while (!self::tried($holds)) {
            if (microtime(true) > $until) {
                throw new \RuntimeException("Not within {$patience} s: {$what}");
            }
            usleep(200_000);
        }
    }

    /** @return float as long as a machine may take that is slow and has other work, for what takes an idle one so long */
    public static function patience(float $seconds): float
    {
        return max(60.0, min(4 * $seconds, $seconds + 180));
    }

    public static function console(string ...$arguments): Process
    {
        $process = new Process([PHP_BINARY, 'bin/console', ...$arguments], dirname(__DIR__, 2), null, null, 240.0);
        $process->run();

        return $process;
    }

    private static function tried(callable $holds): bool
    {
        try {
            return (bool) $holds();
        } catch (\Doctrine\DBAL\Exception) {
            // The server was away: the next try connects anew.
            foreach (self::$connections as $connection) {
                $connection->close();
            }

            return false;
        }
    }
}

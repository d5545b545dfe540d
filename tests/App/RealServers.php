<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Symfony\Component\Process\Process;

/** Servers from the system's packages, each with a folder and a port of its own, gone with the test. */
trait RealServers
{
    private static string $folder;
    /** @var list<Process> */
    private static array $processes = [];

    public static function tearDownAfterClass(): void
    {
        foreach (self::$processes as $process) {
            $process->stop(3);
        }
        self::$processes = [];
        (new Process(['rm', '-rf', self::$folder]))->run();
    }

    private static function ownFolder(string $of): void
    {
        self::$folder = sys_get_temp_dir() . "/olivine-{$of}-" . bin2hex(random_bytes(4));
        mkdir(self::$folder, 0o755);
    }

    /** One that the system gives to nobody who merely connects somewhere, so that it is free still when a server begins. */
    private static function freePort(): int
    {
        for ($tries = 0; $tries < 200; ++$tries) {
            $port = random_int(21_000, 31_999);
            $server = @stream_socket_server("tcp://127.0.0.1:{$port}");
            if ($server !== false) {
                fclose($server);

                return $port;
            }
        }
        throw new \RuntimeException('No port is free');
    }

    /** @param list<string> $command */
    private static function begun(array $command): void
    {
        $process = new Process($command, '/', timeout: null);
        $process->start();
        self::$processes[] = $process;
    }

    /**
     * @template T
     *
     * @param callable(): T $connect
     *
     * @return T
     */
    private static function patiently(callable $connect): mixed
    {
        for ($until = microtime(true) + 120; ; usleep(200_000)) {
            try {
                return $connect();
            } catch (\Exception $error) {
                microtime(true) < $until || throw $error;
            }
        }
    }

    /** One for localhost, signed by itself: cert.pem and key.pem. */
    private static function certificate(int $days): void
    {
        $folder = self::$folder;
        $make = ['openssl', 'req', '-x509', '-newkey', 'rsa:2048', '-nodes', '-days', (string) $days, '-subj', '/CN=localhost'];
        $files = ['-addext', 'subjectAltName=DNS:localhost', '-keyout', "{$folder}/key.pem", '-out', "{$folder}/cert.pem"];
        (new Process([...$make, ...$files], timeout: 60))->mustRun();
        chmod("{$folder}/key.pem", 0o644);
    }

    /** Until somebody listens there. */
    private static function listens(int $port): void
    {
        self::patiently(static function () use ($port): void {
            $connection = @stream_socket_client("tcp://127.0.0.1:{$port}", timeout: 2.0) ?: throw new \RuntimeException("Nobody listens on {$port}");
            fclose($connection);
        });
    }

    /**
     * @param list<string> $options of the server, beside the usual
     *
     * @return string where root gets in
     */
    private static function mariaDb(int $port, array $options = []): string
    {
        [$data, $socket] = [self::$folder . "/mariadb-{$port}", self::$folder . "/mariadb-{$port}.sock"];
        $user = posix_geteuid() === 0 ? ['--user=mysql'] : [];
        $install = ['mariadb-install-db', '--no-defaults', "--datadir={$data}", '--auth-root-authentication-method=normal', ...$user];
        (new Process($install, timeout: 240))->mustRun();
        posix_geteuid() === 0 && chown(self::$folder, 'mysql');
        $places = ["--datadir={$data}", "--socket={$socket}", "--port={$port}", '--bind-address=127.0.0.1'];
        self::begun(['/usr/sbin/mariadbd', '--no-defaults', ...$places, ...$user, ...$options]);

        return "mysql:unix_socket={$socket}";
    }

    /** @return list<string> with what runs as the user that PostgreSQL wants */
    private static function asPostgres(): array
    {
        return posix_geteuid() === 0 ? ['setpriv', '--reuid=postgres', '--regid=postgres', '--clear-groups'] : [];
    }

    private static function postgresProgram(string $name): string
    {
        $programs = glob('/usr/lib/postgresql/*/bin') ?: throw new \RuntimeException('PostgreSQL is not on this machine; bin/olivine test installs it');

        return end($programs) . "/{$name}";
    }

    private static function postgresFolder(string $name): string
    {
        $folder = self::$folder . "/{$name}";
        mkdir($folder, 0o700);
        posix_geteuid() === 0 && chown($folder, 'postgres');

        return $folder;
    }

    /** @param list<string> $options of the server, beside the usual */
    private static function postgreSql(int $port, string $password, array $options = []): string
    {
        $data = self::postgresFolder("postgresql-{$port}");
        $word = self::$folder . '/word';
        file_put_contents($word, $password);
        $install = [self::postgresProgram('initdb'), '-D', $data, '-A', 'scram-sha-256', '-U', 'root', "--pwfile={$word}", '--no-sync'];
        (new Process([...self::asPostgres(), ...$install], '/', timeout: 240))->mustRun();
        self::postgresBegins($data, $port, $options);

        return "pgsql:host=127.0.0.1;port={$port};dbname=postgres";
    }

    /** @param list<string> $options */
    private static function postgresBegins(string $data, int $port, array $options = []): void
    {
        self::begun([...self::asPostgres(), self::postgresProgram('postgres'), '-D', $data, '-p', (string) $port, '-h', '127.0.0.1', '-k', '', ...$options]);
    }
}

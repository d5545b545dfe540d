<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Symfony\Component\Process\Process;

/** Stations with places of their own, in networks of their own, in which nothing is reached but what is let through. */
trait StationsApart
{
    private Client $ines;
    private string $name;
    private string $folder;
    /** At which stations find the centre. */
    private int $port;
    /** @var array<string, Process> */
    private array $running = [];
    /** @var list<int> */
    private array $made = [];

    private function prepareStations(): void
    {
        $this->ines = new Client('ines@saltmarsh.example');
        $this->name = 'pier ' . bin2hex(random_bytes(3));
        $this->folder = sys_get_temp_dir() . '/station-' . bin2hex(random_bytes(4));
        mkdir($this->folder);
        $this->port = self::freePort();
    }

    private function stopStations(): void
    {
        array_map(static fn(Process $one) => $one->stop(1.0), $this->running);
        foreach ($this->made as $id) {
            $this->ines->send('DELETE', "/api/targets/{$id}", []);
        }
        foreach ($this->ines->send('GET', '/api/places')[1]['places'] as $place) {
            if (str_starts_with($place['name'], $this->name)) {
                $this->ines->send('DELETE', "/api/places/{$place['id']}", []);
            }
        }
        (new Process(['rm', '-rf', $this->folder]))->run();
    }

    /**
     * @param list<int> $checks
     *
     * @return string lets stations join
     */
    private function token(string $names, array $checks, int $most = 1): string
    {
        $fields = ['name' => $this->name, 'names' => $names, 'checks' => $checks, 'most' => $most];
        [$status, $token, $text] = $this->ines->send('POST', '/api/station-tokens', $fields);
        self::assertSame(201, $status, $text);

        return $token['token'];
    }

    /** @param array<string, mixed> $fields */
    private function check(string $name, int $port, array $fields = []): int
    {
        [$status, $check, $text] = $this->ines->send('POST', '/api/checks', $fields + $this->body($name, $port));
        self::assertSame(201, $status, $text);
        $this->made[] = $check['id'];

        return $check['id'];
    }

    /** @return array<string, mixed> */
    private function body(string $name, int $port): array
    {
        return ['name' => $name, 'asks' => ['kind' => 'tcp', 'host' => '127.0.0.1', 'port' => $port, 'patienceSeconds' => 2.0], 'intervalSeconds' => 5];
    }

    /** @return int a port at which somebody answers, as long as the test lasts */
    private function served(): int
    {
        $port = self::freePort();
        $this->running["served {$port}"] = $this->relay($port, 'tcp://127.0.0.1:' . Instance::port(0));
        $this->running["through {$port}"] = self::started([PHP_BINARY, 'tests/relay.php', "unix://{$this->folder}/{$port}.sock", "tcp://127.0.0.1:{$port}"]);

        return $port;
    }

    private function through(int $port): string
    {
        return "unix://{$this->folder}/{$port}.sock";
    }

    private static function centre(): string
    {
        return 'tcp://127.0.0.1:' . Instance::port(0);
    }

    private function relay(int $port, string $to): Process
    {
        return self::started([PHP_BINARY, 'tests/relay.php', "tcp://127.0.0.1:{$port}", $to]);
    }

    /** @param list<string> $command that says when it is there */
    private static function started(array $command): Process
    {
        $process = new Process($command, dirname(__DIR__, 2), timeout: null);
        $process->start();
        Instance::eventually(static fn(): bool => str_contains($process->getOutput(), 'listening'), 20, implode(' ', $command) . ' listens');

        return $process;
    }

    /** @param list<string> $before such as what leads into a network */
    private function station(string $place, string $token, array $before = []): Process
    {
        $command = [PHP_BINARY, 'bin/console', 'olivine:station', "--to=http://127.0.0.1:{$this->port}", "--token={$token}", "--place={$place}"];
        $command = [...$before, ...$command, "--state={$this->folder}/{$place}"];
        $process = new Process($command, dirname(__DIR__, 2), ['OLIVINE_MAY_ASK' => 'private loopback'], timeout: null);
        $process->start();

        return $process;
    }

    private function needNetworks(): void
    {
        if ((new Process(['unshare', '-n', 'true']))->run() !== 0) {
            self::markTestSkipped('This machine lets nobody have a network of their own');
        }
    }

    /**
     * A station in a network of its own each, from which the centre and these ports are reached.
     *
     * @param list<string> $networks
     * @param list<int>    $ports
     */
    private function stationsIn(array $networks, string $token, array $ports): void
    {
        $this->running['centre'] = self::started([PHP_BINARY, 'tests/relay.php', $this->through($this->port), self::centre()]);
        foreach ($networks as $one) {
            $this->network($one);
            foreach ([$this->port, ...$ports] as $port) {
                $this->letThrough($one, $port);
            }
            $this->running["station {$one}"] = $this->station("{$this->name} {$one}", $token, $this->inside($one));
        }
    }

    /** Makes a network in which nothing is but this machine itself. */
    private function network(string $name): void
    {
        $this->running["network {$name}"] = self::started(['unshare', '-n', 'sh', '-c', 'ip link set lo up; echo listening; exec sleep 3600']);
    }

    /** @return list<string> what stands before a command that is to run in there */
    private function inside(string $network): array
    {
        return ['nsenter', '-t', (string) $this->running["network {$network}"]->getPid(), '-n'];
    }

    /** What listens at a port out here is reached at the same port in there. */
    private function letThrough(string $network, int $port): void
    {
        $relay = [PHP_BINARY, 'tests/relay.php', "tcp://127.0.0.1:{$port}", $this->through($port)];
        $this->running["{$network} {$port}"] = self::started([...$this->inside($network), ...$relay]);
    }

    private function cut(string $network, int $port): void
    {
        $this->running["{$network} {$port}"]->stop(0);
    }

    private static function freePort(): int
    {
        $server = stream_socket_server('tcp://127.0.0.1:0');
        self::assertIsResource($server);
        $port = (int) substr((string) strrchr((string) stream_socket_get_name($server, false), ':'), 1);
        fclose($server);

        return $port;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Answer\CheckStep;
use Olivine\App\Collect\Definition\DnsFields;
use Olivine\App\Collect\Definition\PingFields;
use Olivine\App\Collect\Definition\TcpFields;
use Olivine\App\Collect\Definition\TlsFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Reach;
use Olivine\App\Collect\ScrapeRefused;
use Olivine\App\Platform\Problem;
use Olivine\Core\Check\Dns\DnsAnswer;
use Olivine\Core\Check\Dns\DnsCheck;
use Olivine\Core\Check\Phases;
use Olivine\Core\Check\Ping\PingCheck;
use Olivine\Core\Check\Ping\PingExchange;
use Olivine\Core\Check\Tcp\TcpCheck;
use Olivine\Core\Check\Tcp\TcpExchange;
use Olivine\Core\Check\Tls\Certificate;
use Olivine\Core\Check\Tls\ReadCertificates;
use Olivine\Core\Check\Tls\TlsCheck;
use Olivine\Core\Check\Tls\TlsExchange;
use React\EventLoop\StreamSelectLoop;
use React\Promise\PromiseInterface;
use React\Socket\ConnectionInterface;
use React\Socket\TcpConnector;

/** Asks ports, certificates and name servers, many at once in one loop. */
final class SocketAsker implements Asker
{
    private const MOST_AT_ONCE = 400;
    private const MOST_RECEIVED_BYTES = 65_536;
    private const LOOKS_AGAIN_SECONDS = 0.005;

    private readonly RunsUnderWay $runs;
    private readonly StreamSelectLoop $loop;
    private readonly ReachedNames $names;
    private readonly TcpConnector $connector;
    private readonly DnsQueries $queries;

    public function __construct(private readonly Reach $reach, private readonly CheckAsks $asks)
    {
        $this->runs = new RunsUnderWay(self::MOST_AT_ONCE);
        $this->loop = $this->runs->loop;
        $this->names = new ReachedNames($this->loop, $reach);
        $this->connector = new TcpConnector($this->loop);
        $this->queries = new DnsQueries($this->loop);
    }

    public function made(Target $target, ?int $dueMs, int $place): SocketRun
    {
        return new SocketRun($target, $dueMs, $place, $this->asks->of($target));
    }

    public function room(): int
    {
        return $this->runs->room();
    }

    public function inFlight(): int
    {
        return $this->runs->inFlight();
    }

    /** @throws Problem where what is asked cannot be so any more */
    public function start(CheckRun $run): void
    {
        \assert($run instanceof SocketRun);
        match (true) {
            $run->asks instanceof TcpFields => $this->startTcp($run, SocketChecks::tcp($run->asks, $run->target->slowMs)),
            $run->asks instanceof TlsFields => $this->startTls($run, SocketChecks::tls($run->asks)),
            $run->asks instanceof DnsFields => $this->startDns($run, SocketChecks::dns($run->asks, $run->target->slowMs)),
            $run->asks instanceof PingFields => $this->startPing($run, SocketChecks::ping($run->asks, $run->target->slowMs)),
            default => throw new \LogicException('This is asked otherwise'),
        };
    }

    public function advance(float $seconds): array
    {
        return $this->runs->advance($seconds);
    }

    public function abandon(): void
    {
        $this->runs->abandon();
    }

    /**
     * A connection to where the name leads, once that was looked at.
     *
     * @return PromiseInterface<ConnectionInterface>
     *
     * @throws Problem       where the host is none
     * @throws ScrapeRefused where Olivine may not ask there
     */
    private function connect(string $host, int $port, SocketTimes $times): PromiseInterface
    {
        return $this->names->address($host, $port, $times)->then(function (string $ip) use ($port, $times): PromiseInterface {
            $host = str_contains($ip, ':') ? "[{$ip}]" : $ip;

            return $this->connector->connect("{$host}:{$port}")->then(function (ConnectionInterface $connection) use ($times): ConnectionInterface {
                $times->connected();

                return $connection;
            });
        });
    }

    private function startTcp(SocketRun $run, TcpCheck $check): void
    {
        $times = new SocketTimes();
        $over = function (?string $fault = null) use ($run, $check, $times): void {
            if ($this->runs->isGone($run)) {
                return;
            }
            $exchange = new TcpExchange($times->phases(), $times->received, $fault, $times->isOurs, $times->isConnected());
            $sent = "connect {$check->host}:{$check->port}\n{$check->send}";
            $step = SocketRun::step('', $sent, $times->ip, $exchange->phases, '', strlen($times->received), $fault);
            $run->ends($check->judge($exchange), $times->received, $step);
            $this->runs->end($run);
        };
        $giveUp = static fn() => $over($times->isConnected() ? null : self::late($times, $check->patienceMs));
        $this->runs->begin($run, $check->patienceMs, $giveUp, $times->close(...));
        RunsUnderWay::tried($times, $over, fn() => $this->connect($check->host, $check->port, $times)->then(
            function (ConnectionInterface $connection) use ($check, $times, $over): void {
                if (!$times->holds($connection)) {
                    return;
                }
                if ($check->send !== '') {
                    $connection->write($check->send);
                }
                if (!$check->waits) {
                    $over();

                    return;
                }
                $looks = null;
                $look = static function () use ($check, $times, $over, &$looks): void {
                    $looks = null;
                    $isEnough = $check->isContent(new TcpExchange($times->phases(), $times->received));
                    if ($isEnough || strlen($times->received) >= self::MOST_RECEIVED_BYTES) {
                        $over();
                    }
                };
                $connection->on('data', function (string $data) use ($times, $look, &$looks): void {
                    $times->answered();
                    $times->received = substr($times->received . $data, 0, self::MOST_RECEIVED_BYTES);
                    // Whoever sends byte by byte is not looked through as often.
                    $looks ??= $this->loop->addTimer(self::LOOKS_AGAIN_SECONDS, $look);
                });
                $connection->on('close', function () use (&$looks, $over): void {
                    if ($looks !== null) {
                        $this->loop->cancelTimer($looks);
                    }
                    $over();
                });
            },
            static fn(\Throwable $error) => $over(RunsUnderWay::reason($error)),
        ));
    }

    private function startTls(SocketRun $run, TlsCheck $check): void
    {
        $times = new SocketTimes();
        $over = function (array $chain, ?bool $isTrusted, string $protocol, ?string $fault = null) use ($run, $check, $times): void {
            if ($this->runs->isGone($run)) {
                return;
            }
            /** @var list<Certificate> $chain */
            $exchange = new TlsExchange($times->phases(), $chain, $isTrusted, $protocol, $fault, $times->isOurs);
            $shown = implode("\n\n", array_map(ReadCertificates::words(...), $chain));
            $step = SocketRun::step('', "TLS with {$check->host}:{$check->port}", $times->ip, $exchange->phases, trim("{$protocol}\n{$shown}"), 0, $fault);
            $run->ends($check->judge($exchange, (int) (microtime(true) * 1000)), $shown, $step);
            $this->runs->end($run);
        };
        $failed = static fn(string $fault) => $over([], null, '', $fault);
        $this->runs->begin($run, $check->patienceMs, static fn() => $failed(self::late($times, $check->patienceMs)), $times->close(...));
        RunsUnderWay::tried($times, $failed, fn() => $this->connect($check->host, $check->port, $times)->then(
            function (ConnectionInterface $connection) use ($check, $times, $over, $failed): void {
                if (!$times->holds($connection)) {
                    return;
                }
                (new TlsHandshake($this->loop))->of($connection, $check->name)->then(
                    static function (ShownCertificates $shown) use ($times, $over): void {
                        $times->agreed();
                        $over($shown->chain, $shown->isTrusted, $shown->protocol);
                    },
                    static fn(\Throwable $error) => $failed(RunsUnderWay::reason($error)),
                );
            },
            static fn(\Throwable $error) => $failed(RunsUnderWay::reason($error)),
        ));
    }

    private function startPing(SocketRun $run, PingCheck $check): void
    {
        $times = new SocketTimes();
        $process = new PingProcess($this->loop);
        $over = function (PingExchange $exchange) use ($run, $check, $times): void {
            if ($this->runs->isGone($run)) {
                return;
            }
            $words = array_map(static fn(?float $one): string => $one === null ? 'lost' : round($one * 1000, 2) . ' ms', $exchange->seconds);
            $phases = new Phases(wait: $exchange->latency());
            $step = SocketRun::step('', "{$check->count} echoes of {$check->host}", $times->ip, $phases, implode("\n", $words), 0, $exchange->fault);
            $run->ends($check->judge($exchange), implode("\n", $words), $step);
            $this->runs->end($run);
        };
        $failed = static fn(string $fault) => $over(new PingExchange([], $fault, $times->isOurs));
        $lost = array_fill(0, $check->count, null);
        $patience = $check->patienceMs + 1000;
        $giveUp = static fn() => $times->ip === '' ? $failed(self::late($times, $patience)) : $over(new PingExchange($lost));
        $this->runs->begin($run, $patience, $giveUp, $process->end(...));
        RunsUnderWay::tried($times, $failed, fn() => $this->names->address($check->host, 80, $times)->then(
            fn(string $ip): PromiseInterface => $process->echoes($ip, $check->count, $check->gapSeconds, $check->patienceMs / 1000),
        )->then(
            static fn(array $seconds) => $over(new PingExchange($seconds)),
            static function (\Throwable $error) use ($times, $failed): void {
                // That none could be sent is our own fault; that the name leads nowhere is not.
                $times->isOurs = $times->isOurs || $times->ip !== '';
                $failed(RunsUnderWay::reason($error));
            },
        ));
    }

    /** @throws Problem where a server is none */
    private function startDns(SocketRun $run, DnsCheck $check): void
    {
        /** @var array<string, DnsAnswer> $answers */
        $answers = [];
        $servers = $check->servers === [] ? $this->queries->ownServers() : $check->servers;
        $over = function () use ($run, $check, &$answers, $servers): void {
            if ($this->runs->isGone($run)) {
                return;
            }
            $wait = $check->patienceMs / 1000;
            $all = array_map(
                static fn(string $server): DnsAnswer => $answers[$server] ?? new DnsAnswer($server, $wait, [], sprintf('no answer within %s s', $wait)),
                $servers,
            );
            $steps = array_map(static fn(DnsAnswer $one): CheckStep => self::dnsStep($check, $one), $all);
            $text = implode("\n", array_map(static fn(DnsAnswer $one): string => "{$one->server}: " . implode(', ', $one->records), $all));
            $run->ends($check->judge(...$all), $text, ...$steps);
            $this->runs->end($run);
        };
        $this->runs->begin($run, $check->patienceMs, $over, static function (): void {
        });
        foreach ($servers as $server) {
            [$ip, $port] = SocketChecks::server($server) ?? [$server, 53];
            $refusal = $check->servers === [] ? null : $this->reach->refuse($ip, SocketChecks::address(str_contains($ip, ':') ? "[{$ip}]" : $ip, $port));
            if ($refusal !== null) {
                $answers[$server] = new DnsAnswer($server, 0.0, [], $refusal, true);
                continue;
            }
            $from = microtime(true);
            $take = static function (array $records, ?string $fault) use ($server, $from, $over, $servers, &$answers): void {
                /** @var list<string> $records */
                $answers[$server] = new DnsAnswer($server, microtime(true) - $from, $records, $fault);
                if (count($answers) === count($servers)) {
                    $over();
                }
            };
            $this->queries->ask($ip, $port, $check->name, $check->type)->then(
                static fn(array $records) => $take($records, null),
                static fn(\Throwable $error) => $take([], $error->getMessage()),
            );
        }
        if (count($answers) === count($servers)) {
            $over();
        }
    }

    private static function dnsStep(DnsCheck $check, DnsAnswer $answer): CheckStep
    {
        return SocketRun::step(
            $answer->server,
            "{$check->type} {$check->name} of {$answer->server}",
            $answer->server,
            new Phases(wait: $answer->seconds),
            implode("\n", $answer->records),
            0,
            $answer->fault,
        );
    }

    private static function late(SocketTimes $times, int $patienceMs): string
    {
        $what = match (true) {
            $times->ip === '' => 'The name of the host was not found',
            !$times->isConnected() => 'No connection',
            default => 'No agreement on TLS',
        };

        return sprintf('%s within %s s', $what, round($patienceMs / 1000, 1));
    }
}

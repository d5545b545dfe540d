<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Definition\RecordType;
use React\Dns\Config\Config;
use React\Dns\Model\Message;
use React\Dns\Model\Record;
use React\Dns\Query\Query;
use React\Dns\Query\SelectiveTransportExecutor;
use React\Dns\Query\TcpTransportExecutor;
use React\Dns\Query\UdpTransportExecutor;
use React\EventLoop\LoopInterface;
use React\Promise\PromiseInterface;

/** Asks one name server one question, over UDP, and over TCP where the answer is too long for that. */
final readonly class DnsQueries
{
    private const FAULTS = [1 => 'it did not understand the question', 2 => 'it failed', 4 => 'it does not know how', 5 => 'it refused'];
    private const NO_SUCH_NAME = 3;

    public function __construct(private LoopInterface $loop)
    {
    }

    /** @return list<string> those that this machine asks */
    public function ownServers(): array
    {
        $servers = array_values(array_filter((array) Config::loadSystemConfigBlocking()->nameservers, is_string(...)));

        return $servers === [] ? ['127.0.0.1'] : $servers;
    }

    /** @return PromiseInterface<list<string>> records as text; refused with why it said nothing */
    public function ask(string $ip, int $port, string $name, string $type): PromiseInterface
    {
        $server = (str_contains($ip, ':') ? "[{$ip}]" : $ip) . ":{$port}";
        $executor = new SelectiveTransportExecutor(
            new UdpTransportExecutor("udp://{$server}", $this->loop),
            new TcpTransportExecutor("tcp://{$server}", $this->loop),
        );
        $number = RecordType::from($type)->number();

        return $executor->query(new Query($name, $number, Message::CLASS_IN))->then(static function (Message $message) use ($number): array {
            if ($message->rcode !== Message::RCODE_OK && $message->rcode !== self::NO_SUCH_NAME) {
                throw new \RuntimeException(self::FAULTS[$message->rcode] ?? "it answered with the code {$message->rcode}");
            }
            $records = array_filter($message->answers, static fn(Record $one): bool => $one->type === $number);

            return array_values(array_map(self::words(...), $records));
        });
    }

    private static function words(Record $record): string
    {
        $data = $record->data;
        if (is_array($data)) {
            $parts = array_map(static fn(mixed $one): string => is_scalar($one) ? (string) $one : '', $data);

            return mb_scrub(implode($record->type === Message::TYPE_TXT ? '' : ' ', $parts));
        }

        return mb_scrub((string) $data);
    }
}

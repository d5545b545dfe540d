<?php

declare(strict_types=1);

namespace Olivine\Standin\Sink;

use Olivine\Server\Request;

/**
 * What arrived, one file each, so that it outlives the program. An event whose id is here already is the same event: it is
 * counted, not kept twice. What is not signed as it should be, or is old, is refused.
 *
 * @phpstan-type Event array{id: string, at: int, arrivals: int, type: string, subject: string, event: array<string, mixed>}
 */
final readonly class Events
{
    private const OLDEST_SECONDS = 300;

    public function __construct(private string $folder, private string $secret)
    {
        if (!is_dir($folder)) {
            mkdir($folder, 0o755, true);
        }
    }

    /** @return string|null why it is refused; null where it was taken */
    public function receive(Request $request): ?string
    {
        $time = $request->headers['olivine-time'] ?? '';
        $expected = 'sha256=' . hash_hmac('sha256', "{$time}.{$request->body}", $this->secret);
        if (!hash_equals($expected, $request->headers['olivine-signature'] ?? '')) {
            return 'The signature is not ours';
        }
        if (abs(time() - (int) $time) > self::OLDEST_SECONDS) {
            return 'It is old';
        }
        $event = json_decode($request->body, true);
        if (!is_array($event) || !is_string($event['id'] ?? null) || ($event['specversion'] ?? null) !== '1.0') {
            return 'It is no event of CloudEvents 1.0';
        }
        $this->keep($event['id'], $event);

        return null;
    }

    /** @return list<Event> newest first */
    public function all(): array
    {
        $events = [];
        foreach ((array) glob($this->folder . '/*.json') as $file) {
            $event = self::read((string) $file);
            if ($event !== null) {
                $events[] = $event;
            }
        }
        usort($events, static fn(array $a, array $b): int => $b['at'] <=> $a['at']);

        return $events;
    }

    /** @param array<array-key, mixed> $event */
    private function keep(string $id, array $event): void
    {
        $file = $this->folder . '/' . sha1($id) . '.json';
        $old = is_file($file) ? self::read($file) : null;
        $kept = [
            'id' => $id,
            'at' => $old !== null ? $old['at'] : (int) (microtime(true) * 1000),
            'arrivals' => $old !== null ? $old['arrivals'] + 1 : 1,
            'type' => is_string($event['type'] ?? null) ? $event['type'] : '',
            'subject' => is_string($event['subject'] ?? null) ? $event['subject'] : '',
            'event' => $event,
        ];
        file_put_contents("{$file}.new", json_encode($kept));
        rename("{$file}.new", $file);
    }

    /** @return Event|null */
    private static function read(string $file): ?array
    {
        $event = json_decode((string) file_get_contents($file), true);

        /** @var Event|null */
        return is_array($event) ? $event : null;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Standin\Sink;

use Olivine\Server\Request;
use Olivine\Standin\Outside\Olivine;
use Olivine\Standin\Outside\Things;

/** What arrived: an event whose id is here already is the same event. What is not signed as it should be, or is old, is refused. */
final readonly class Events
{
    public function __construct(private Things $things, private Olivine $olivine)
    {
    }

    /** @return string|null why it is refused; null where it was taken */
    public function receive(Request $request): ?string
    {
        $refusal = $this->olivine->refusal($request);
        if ($refusal !== null) {
            return $refusal;
        }
        $event = json_decode($request->body, true);
        if (!is_array($event) || !is_string($event['id'] ?? null) || ($event['specversion'] ?? null) !== '1.0') {
            return 'It is no event of CloudEvents 1.0';
        }
        $text = static fn(string $name): string => is_string($event[$name] ?? null) ? $event[$name] : '';
        $this->things->arrives($event['id'], ['type' => $text('type'), 'subject' => $text('subject'), 'event' => $event]);

        return null;
    }

    /** @return list<array<string, mixed>> newest first */
    public function all(): array
    {
        return $this->things->all();
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Standin\Outside;

use Olivine\Server\Response;

/** What was said somewhere, and what was answered to each of it. */
final readonly class Conversations
{
    private const MOST_SHOWN = 100;

    public function __construct(private Things $things, private Olivine $olivine)
    {
    }

    /**
     * @param string       $where the channel that says it
     * @param list<string> $needs fields that must be texts
     */
    public function arrives(string $where, string $body, array $needs): Response
    {
        $message = json_decode($body, true);
        $lacks = array_filter(['id', ...$needs], static fn(string $one): bool => !is_array($message) || self::of($message, $one) === '');
        if ($lacks !== [] || !is_array($message)) {
            return new Response('It needs ' . implode(' and ', $lacks) . "\n", 'text/plain', 422);
        }
        $id = self::of($message, 'id');
        $this->things->arrives("{$where} {$id}", ['how' => $where, 'message' => $message, 'answers' => []]);

        return Response::json(['taken' => true]);
    }

    /** @return list<array<string, mixed>> newest first */
    public function all(): array
    {
        return $this->things->all();
    }

    /** @return list<array{how: string, message: array<array-key, mixed>, thing: array<string, mixed>}> the newest of them */
    public function shown(): array
    {
        return array_map(
            static fn(array $thing): array => ['how' => self::of($thing, 'how'), 'message' => self::messageOf($thing), 'thing' => $thing],
            array_slice($this->things->all(), 0, self::MOST_SHOWN),
        );
    }

    /**
     * Brought to Olivine, and kept with what is said to it.
     *
     * @param string                                                                         $id     of what is answered
     * @param \Closure(string $how, array<array-key, mixed> $message): array<string, string> $answer
     * @param string                                                                         $words  as the page shows it
     */
    public function answered(string $id, \Closure $answer, string $words): void
    {
        $thing = $this->things->one($id);
        if ($thing === null) {
            return;
        }
        $how = self::of($thing, 'how');
        $said = $this->olivine->bring($how, $answer($how, self::messageOf($thing)));
        $answers = is_array($thing['answers'] ?? null) ? $thing['answers'] : [];
        $this->things->keep($id, ['answers' => [...$answers, [$words, $said]]] + $thing);
    }

    /** @param array<string, mixed> $thing */
    public static function answers(array $thing): string
    {
        $shown = '';
        foreach (is_array($thing['answers'] ?? null) ? $thing['answers'] : [] as $answer) {
            $words = is_array($answer) ? $answer : [];
            $shown .= '<p class="said">' . Sheet::text($words[0] ?? '') . ' → ' . Sheet::text($words[1] ?? '') . '</p>';
        }

        return $shown;
    }

    /** @param array<array-key, mixed> $said */
    public static function of(array $said, string $field): string
    {
        return is_string($said[$field] ?? null) ? $said[$field] : '';
    }

    /**
     * @param array<string, mixed> $thing
     *
     * @return array<array-key, mixed>
     */
    private static function messageOf(array $thing): array
    {
        return is_array($thing['message'] ?? null) ? $thing['message'] : [];
    }
}

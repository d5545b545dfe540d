<?php

declare(strict_types=1);

namespace Olivine\Standin\Outside;

use Olivine\Server\Request;

/** Olivine as a stand-in sees it: what comes from there is signed, and what people answer is brought there, signed too. */
final readonly class Olivine
{
    private const OLDEST_SECONDS = 300;
    private const PATIENCE_SECONDS = 20.0;

    public function __construct(private string $address, private string $secret)
    {
    }

    /** @return string|null why it is not theirs; null where it is */
    public function refusal(Request $request): ?string
    {
        $time = $request->headers['olivine-time'] ?? '';

        return match (true) {
            !hash_equals($this->signature($time, $request->body), $request->headers['olivine-signature'] ?? '') => 'The signature is not ours',
            abs(time() - (int) $time) > self::OLDEST_SECONDS => 'It is old',
            default => null,
        };
    }

    /**
     * @param array<string, string> $answer
     *
     * @return string what is said to it
     */
    public function bring(string $channel, array $answer): string
    {
        $body = (string) json_encode(['id' => bin2hex(random_bytes(12))] + $answer, JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE);
        $time = (string) time();
        $headers = ['Content-Type: application/json', "Olivine-Time: {$time}", "Olivine-Signature: {$this->signature($time, $body)}"];
        $context = stream_context_create([
            'http' => [
                'method' => 'POST',
                'header' => $headers,
                'content' => $body,
                'timeout' => self::PATIENCE_SECONDS,
                'ignore_errors' => true,
            ],
        ]);
        $said = json_decode((string) @file_get_contents("{$this->address}/in/{$channel}", false, $context), true);
        $words = is_array($said) ? $said['say'] ?? $said['title'] ?? null : null;

        return is_string($words) ? $words : 'Nothing came back.';
    }

    private function signature(string $time, string $body): string
    {
        return 'sha256=' . hash_hmac('sha256', "{$time}.{$body}", $this->secret);
    }
}

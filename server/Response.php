<?php

declare(strict_types=1);

namespace Olivine\Server;

final readonly class Response
{
    /**
     * @param float $afterSeconds how long the answer is kept back
     * @param bool  $hangUp       close the connection without an answer
     */
    public function __construct(
        public string $body,
        public string $contentType = 'text/html; charset=utf-8',
        public int $status = 200,
        public string $location = '',
        public float $afterSeconds = 0.0,
        public bool $hangUp = false,
    ) {
    }

    public static function redirect(string $location): self
    {
        return new self('', 'text/plain', 303, $location);
    }

    /** @param array<array-key, mixed> $data */
    public static function json(array $data): self
    {
        return new self((string) json_encode($data, JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE), 'application/json');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Server;

final readonly class Request
{
    /**
     * @param array<string, string> $query
     * @param array<string, string> $headers lower-case names
     */
    public function __construct(
        public string $method,
        public string $path,
        public array $query,
        public array $headers,
        public string $body,
    ) {
    }

    /** @return array<string, string> fields of a posted form */
    public function form(): array
    {
        parse_str($this->body, $fields);

        return HttpServer::texts($fields);
    }
}

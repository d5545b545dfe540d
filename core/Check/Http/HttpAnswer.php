<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Http;

use Olivine\Core\Check\Expect\Answer;
use Olivine\Core\Check\Expect\DocumentPlace;
use Olivine\Core\Check\Expect\Documents;
use Olivine\Core\Check\Tls\Certificate;

/** One whole answer of a server. */
final readonly class HttpAnswer implements Answer
{
    /**
     * @param list<array{string, string}> $headers name and value, as they came
     * @param bool                        $isCut   whether the body was longer than is looked at
     * @param list<Certificate>           $chain   of the server, its own first
     */
    public function __construct(
        public int $status,
        public string $protocol,
        public array $headers,
        public string $body,
        private Documents $documents,
        public bool $isCut = false,
        public array $chain = [],
    ) {
    }

    public function status(): int
    {
        return $this->status;
    }

    public function text(): string
    {
        return $this->body;
    }

    public function header(string $name): ?string
    {
        $values = array_filter($this->headers, static fn(array $header): bool => strcasecmp($header[0], $name) === 0);

        return $values === [] ? null : implode(', ', array_column($values, 1));
    }

    public function at(DocumentPlace $place): array
    {
        return $this->documents->at($this->body, $place);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Tcp;

use Olivine\Core\Check\Expect\Answer;
use Olivine\Core\Check\Expect\DocumentKind;
use Olivine\Core\Check\Expect\DocumentPlace;
use Olivine\Core\Check\Expect\NoDocument;
use Olivine\Core\Check\Phases;

/** What became of a connection: what came back, or why there was none. */
final readonly class TcpExchange implements Answer
{
    /**
     * @param string|null $fault       why there is no whole answer, as a sentence without a full stop
     * @param bool        $isOurs      whether that is our own fault: the address may not be asked
     * @param bool        $isConnected whether there was a connection at all
     */
    public function __construct(
        public Phases $phases,
        public string $received,
        public ?string $fault = null,
        public bool $isOurs = false,
        public bool $isConnected = true,
    ) {
    }

    public function status(): ?int
    {
        return null;
    }

    public function text(): string
    {
        return $this->received;
    }

    public function header(string $name): ?string
    {
        return null;
    }

    public function at(DocumentPlace $place): array
    {
        return $place->kind === DocumentKind::Text
            ? $place->foundIn($this->received)
            : throw new NoDocument('what comes over a plain connection is no document; text "used_memory:*" finds what stands in its lines');
    }
}

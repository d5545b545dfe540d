<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Sql;

use Olivine\Core\Check\Expect\Answer;
use Olivine\Core\Check\Expect\DocumentKind;
use Olivine\Core\Check\Expect\DocumentPlace;
use Olivine\Core\Check\Expect\NoDocument;
use Olivine\Core\Check\Phases;

/** What became of a query: its first row, or why there is none. */
final readonly class SqlExchange implements Answer
{
    /**
     * @param array<string, string|float|bool|null>|null $row         column → value; null where none came
     * @param string|null                                $fault       why there is no answer, as a sentence without a full stop
     * @param bool                                       $isOurs      whether that is our own fault
     * @param bool                                       $isConnected whether the server let us in
     */
    public function __construct(
        public Phases $phases,
        public ?array $row,
        public ?string $fault = null,
        public bool $isOurs = false,
        public bool $isConnected = true,
    ) {
    }

    public function status(): ?int
    {
        return null;
    }

    /** The row as JSON, so that what is expected of it is said as of any other document. */
    public function text(): string
    {
        return $this->row === null
            ? ''
            : (string) json_encode((object) $this->row, JSON_PRETTY_PRINT | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE);
    }

    public function header(string $name): ?string
    {
        return null;
    }

    public function at(DocumentPlace $place): array
    {
        if ($place->kind !== DocumentKind::Json || !$place->isPointer()) {
            throw new NoDocument('of a row a value is named by its column, as in json /waiting');
        }

        return $place->pointedAt($this->row ?? []);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Http;

use Olivine\Core\Check\Expect\Expectation;

/** One request of a check, and what is expected of its answer. In url, headers and body `{name}` stands for what was taken before, or a secret. */
final readonly class HttpStep
{
    public const HOLE = '~\{([a-z][a-z0-9_]{0,39})\}~';

    /**
     * @param array<string, string> $headers
     * @param list<Taken>           $takes
     * @param list<NamedValue>      $values
     * @param int                   $patienceMs after which it is given up
     */
    public function __construct(
        public string $name,
        public string $method,
        public string $url,
        public array $headers,
        public string $body,
        public bool $follows,
        public int $patienceMs,
        public Expectation $expects,
        public array $takes = [],
        public array $values = [],
    ) {
    }

    /** @param array<string, string> $headers */
    public function with(array $headers): self
    {
        return new self(
            $this->name,
            $this->method,
            $this->url,
            $headers,
            $this->body,
            $this->follows,
            $this->patienceMs,
            $this->expects,
            $this->takes,
            $this->values,
        );
    }

    /** @return list<string> the names of what it is filled with */
    public function holes(): array
    {
        preg_match_all(self::HOLE, implode("\n", [$this->url, $this->body, ...array_values($this->headers)]), $parts);

        return array_values(array_unique($parts[1]));
    }

    /**
     * With its holes filled; what is unknown stays as it is written. In the address what is filled in is escaped.
     *
     * @param array<string, string> $known
     */
    public function filled(array $known): self
    {
        $fill = static fn(string $text, bool $escapes = false): string => (string) preg_replace_callback(
            self::HOLE,
            static fn(array $hole): string => match (true) {
                !isset($known[$hole[1]]) => $hole[0],
                $escapes => rawurlencode($known[$hole[1]]),
                default => $known[$hole[1]],
            },
            $text,
        );

        return new self(
            $this->name,
            $this->method,
            // What a whole address was taken from an answer is that address.
            preg_match('~^\{([a-z][a-z0-9_]*)\}$~D', $this->url, $whole) === 1 ? $known[$whole[1]] ?? $this->url : $fill($this->url, true),
            array_map($fill(...), $this->headers),
            $fill($this->body),
            $this->follows,
            $this->patienceMs,
            $this->expects,
            $this->takes,
            $this->values,
        );
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Check;

/** The way to a host, hop by hop, as the system's traceroute found it. */
final readonly class Way
{
    private const LINE = '~^\s*(\d{1,2})\s+(\S.*)$~m';

    /** @param list<Hop> $hops */
    public function __construct(public array $hops)
    {
    }

    /** @param string $said by `traceroute -n`: `2  10.1.0.1  0.45 ms * 0.44 ms`, a star for each that nobody answered */
    public static function of(string $said): self
    {
        preg_match_all(self::LINE, $said, $lines, PREG_SET_ORDER);

        return new self(array_map(static fn(array $line): Hop => Hop::of((int) $line[1], $line[2]), $lines));
    }

    /** A line a hop: `2  10.1.0.1  0.45 ms, 1 of 3 lost`. Hops at the end that nobody answered are one line. */
    public function words(): string
    {
        $answered = array_filter($this->hops, static fn(Hop $hop): bool => $hop->address !== '');
        $last = $answered === [] ? 0 : max(array_map(static fn(Hop $hop): int => $hop->number, $answered));
        $lines = array_map(static fn(Hop $hop): string => $hop->words(), array_filter($this->hops, static fn(Hop $hop): bool => $hop->number <= $last));
        if (count($this->hops) > count($lines)) {
            $lines[] = sprintf('from hop %d on nobody answered', $last + 1);
        }

        return implode("\n", $lines);
    }
}

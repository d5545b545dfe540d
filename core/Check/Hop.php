<?php

declare(strict_types=1);

namespace Olivine\Core\Check;

/** One hop of a way: who answered there, how long that took, and how often nobody did. */
final readonly class Hop
{
    /** @param float|null $seconds there and back, on average; null where nobody answered */
    public function __construct(public int $number, public string $address, public int $asked, public int $lost, public ?float $seconds)
    {
    }

    /** @param string $said what stands behind the number: `10.1.0.1  0.45 ms * 10.1.0.2  0.44 ms !X` */
    public static function of(int $number, string $said): self
    {
        preg_match_all('~([\d.]+) ms~', $said, $times);
        $lost = substr_count($said, '*');
        $address = preg_match('~(?<![\w.:])((?:\d{1,3}\.){3}\d{1,3}|[0-9a-f]*:[0-9a-f:.]+)~i', $said, $part) === 1 ? $part[1] : '';
        $seconds = array_map(static fn(string $ms): float => (float) $ms / 1000, $times[1]);

        return new self($number, $address, $lost + count($seconds), $lost, $seconds === [] ? null : array_sum($seconds) / count($seconds));
    }

    public function words(): string
    {
        if ($this->seconds === null) {
            return sprintf('%2d  nobody answered', $this->number);
        }
        $lost = $this->lost === 0 ? '' : sprintf(', %d of %d lost', $this->lost, $this->asked);

        return sprintf('%2d  %s  %s ms%s', $this->number, $this->address, round($this->seconds * 1000, 2), $lost);
    }
}

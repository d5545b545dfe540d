<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Station;

/** One file of what waits, with the numbers of its first and last line. */
final class Segment
{
    public int $last;
    public int $bytes = 0;

    public function __construct(public readonly string $file, public readonly int $first)
    {
        $this->last = $first;
    }

    /** @return self|null null where no line of it can be read */
    public static function found(string $file): ?self
    {
        $numbers = [];
        foreach (explode("\n", (string) file_get_contents($file)) as $line) {
            $number = self::numberOf($line);
            if ($number !== null) {
                $numbers[] = $number;
            }
        }
        if ($numbers === []) {
            return null;
        }
        $segment = new self($file, min($numbers));
        [$segment->last, $segment->bytes] = [max($numbers), (int) filesize($file)];

        return $segment;
    }

    /** A line that was cut off, since the machine went down as it was written, has none. */
    public static function numberOf(string $line): ?int
    {
        $written = $line === '' ? null : json_decode($line, true, 24);

        return is_array($written) && is_int($written['number'] ?? null) ? $written['number'] : null;
    }
}

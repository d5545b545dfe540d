<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Station;

/**
 * What a station has seen and the centre has not taken yet: lines in files of at most so many, the oldest first. What is written here
 * outlives the program, and an outage of the centre for as long as there is room; then the oldest goes, and is counted.
 */
final class Backlog
{
    private const LINES_A_FILE = 500;
    private const MOST_BYTES = 500_000_000;
    private const BYTES_AT_ONCE = 3_000_000;

    /** @var list<Segment> the oldest first */
    private array $segments = [];
    /** The number of what was put here last, also where all of it is taken by now. */
    private int $last = 0;
    private int $through = 0;
    /** The one that is written to. */
    private ?Segment $ours = null;
    private int $lost = 0;

    public function __construct(private readonly string $folder)
    {
        is_dir($folder) || mkdir($folder, 0o700, true);
        $this->last = (int) @file_get_contents("{$folder}/last");
        foreach (glob("{$folder}/*.lines") ?: [] as $file) {
            $segment = Segment::found($file);
            if ($segment === null) {
                unlink($file);
                continue;
            }
            $this->segments[] = $segment;
            $this->last = max($this->last, $segment->last);
        }
    }

    public function nextNumber(): int
    {
        return $this->last + 1;
    }

    /** A centre that has taken more already is not told the same numbers anew. */
    public function isTakenThrough(int $number): void
    {
        $this->through = max($this->through, $number);
        $this->last = max($this->last, $number);
        while ($this->segments !== [] && $this->segments[0]->last <= $this->through) {
            unlink(array_shift($this->segments)->file);
        }
    }

    /** @param non-empty-list<Result> $results */
    public function put(array $results): void
    {
        $text = implode('', array_map(static fn(Result $one): string => "{$one->line()}\n", $results));
        $segment = $this->segmentFor($results[0]->number, count($results));
        if (file_put_contents($segment->file, $text, FILE_APPEND) !== strlen($text)) {
            fwrite(STDERR, "The station could not keep what it saw: the disk under {$this->folder} is full or gone\n");
            $this->lost += count($results);
        }
        $this->last = $segment->last = $results[count($results) - 1]->number;
        $segment->bytes += strlen($text);
        file_put_contents("{$this->folder}/last.part", (string) $this->last);
        rename("{$this->folder}/last.part", "{$this->folder}/last");
        while (count($this->segments) > 1 && array_sum(array_column($this->segments, 'bytes')) > self::MOST_BYTES) {
            $gone = array_shift($this->segments);
            $this->lost += $gone->last - max($gone->first, $this->through + 1) + 1;
            unlink($gone->file);
        }
    }

    private function segmentFor(int $number, int $lines): Segment
    {
        $newest = $this->segments[count($this->segments) - 1] ?? null;
        // Nothing is written behind what another program left: its last line may be cut off.
        $isOurs = $newest !== null && $newest === $this->ours;
        if (!$isOurs || $newest->last - $newest->first + $lines > self::LINES_A_FILE) {
            $this->segments[] = $this->ours = $newest = new Segment(sprintf('%s/%015d.lines', $this->folder, $number), $number);
        }

        return $newest;
    }

    /** @return list<string> lines that are not taken yet, the oldest first, as many as go at once */
    public function next(int $most): array
    {
        [$lines, $bytes] = [[], 0];
        foreach ($this->segments as $segment) {
            foreach (explode("\n", (string) file_get_contents($segment->file)) as $line) {
                if (count($lines) >= $most || ($bytes > 0 && $bytes + strlen($line) > self::BYTES_AT_ONCE)) {
                    return $lines;
                }
                if ((Segment::numberOf($line) ?? 0) > $this->through) {
                    $lines[] = $line;
                    $bytes += strlen($line);
                }
            }
        }

        return $lines;
    }

    public function waiting(): int
    {
        return $this->segments === [] ? 0 : max(0, $this->last - max($this->through, $this->segments[0]->first - 1));
    }

    public function lost(): int
    {
        return $this->lost;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Agent;

use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Exposition\TextWriter;

/** How many files fit each pattern, how long they are together, and how old the newest and the oldest of them are. */
final readonly class WatchedFiles
{
    private const MOST_FILES = 100_000;

    /** @param list<string> $patterns such as `/var/backups/*.tar.gz` */
    public function __construct(private array $patterns)
    {
    }

    public function write(TextWriter $writer): void
    {
        [$counts, $bytes, $newest, $oldest] = [[], [], [], []];
        foreach ($this->patterns as $pattern) {
            $labels = ['files' => $pattern];
            $changed = $sizes = [];
            foreach (array_slice(glob($pattern, GLOB_BRACE) ?: [], 0, self::MOST_FILES) as $file) {
                clearstatcache(true, $file);
                $state = @stat($file);
                if ($state !== false && is_file($file)) {
                    [$changed[], $sizes[]] = [$state['mtime'], $state['size']];
                }
            }
            $counts[] = [$labels, count($sizes)];
            $bytes[] = [$labels, array_sum($sizes)];
            if ($changed !== []) {
                $newest[] = [$labels, max(0, time() - max($changed))];
                $oldest[] = [$labels, max(0, time() - min($changed))];
            }
        }
        $writer
            ->family('files_count', MetricType::Gauge, '', 'How many files fit the pattern', $counts)
            ->family('files_size_bytes', MetricType::Gauge, 'bytes', 'How long they are together', $bytes)
            ->family('files_newest_age_seconds', MetricType::Gauge, 'seconds', 'Since the newest of them was changed', $newest)
            ->family('files_oldest_age_seconds', MetricType::Gauge, 'seconds', 'Since the oldest of them was changed', $oldest);
    }
}

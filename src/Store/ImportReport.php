<?php

declare(strict_types=1);

namespace Olivine\App\Store;

/** How an import went. */
final class ImportReport
{
    private const MOST_REASONS = 20;

    public int $readings = 0;
    /** Those that were there before. */
    public int $already = 0;
    public int $newSeries = 0;
    public int $refused = 0;
    /** @var list<string> the first few */
    public array $reasons = [];

    /** @param int $readings how many of them, for this one reason */
    public function refuse(string $reason, int $readings = 1): void
    {
        $this->refused += $readings;
        if (count($this->reasons) < self::MOST_REASONS) {
            $this->reasons[] = mb_substr($reason, 0, 500);
        }
    }
}

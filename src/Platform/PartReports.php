<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Olivine\App\Platform\Answer\PartReport;

/** What each part says of itself every few seconds: that it is there, and its figures. */
final readonly class PartReports
{
    public function __construct(private Database $database)
    {
    }

    /** @param array<string, float> $figures */
    public function keep(string $part, int $pid, int $atMs, array $figures): void
    {
        $json = json_encode($figures, JSON_THROW_ON_ERROR);
        $this->database->upsert('part_status', ['name', 'pid', 'at', 'figures'], [[$part, $pid, $atMs, $json]]);
    }

    /** @return array<string, PartReport> by the part's name */
    public function now(int $nowMs): array
    {
        $reports = [];
        foreach ($this->database->connection->iterateNumeric('SELECT name, at, figures FROM part_status ORDER BY name') as $row) {
            [$name, $at, $figures] = $row;
            $reports[(string) $name] = new PartReport(
                name: (string) $name,
                ageMs: $nowMs - (int) $at,
                figures: (object) json_decode((string) $figures, true, 4, JSON_THROW_ON_ERROR),
            );
        }

        return $reports;
    }
}

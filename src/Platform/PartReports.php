<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\ParameterType;
use Olivine\App\Platform\Answer\PartReport;
use Olivine\Core\Time\Instant;

/** What each part says of itself every few seconds: that it is there, and its figures. */
final readonly class PartReports
{
    public function __construct(private Database $database)
    {
    }

    /**
     * A copy speaks under the first of its slots, and nobody any more under the others that it holds.
     *
     * @param array<string, float> $figures
     */
    public function keep(HeldSlots $slots, int $pid, Instant $at, array $figures): void
    {
        $json = json_encode($figures, JSON_THROW_ON_ERROR);
        $part = $slots->part->value;
        $numbers = $slots->numbers();
        $first = array_shift($numbers) ?? throw new \LogicException('Who holds nothing has nothing to say');
        $this->database->upsert('part_status', ['name', 'slot', 'pid', 'at', 'figures'], [[$part, $first, $pid, $at->ms, $json]]);
        $this->database->connection->executeStatement(
            'DELETE FROM part_status WHERE name = ? AND slot IN (?)',
            [$part, $numbers === [] ? [-1] : $numbers],
            [ParameterType::STRING, ArrayParameterType::INTEGER],
        );
    }

    /** @return array<string, int> part → how many copies of it are here, at work or ready to be */
    public function copies(): array
    {
        /** @var array<string, mixed> $copies */
        $copies = $this->database->connection->fetchAllKeyValue(
            'SELECT part, COUNT(*) FROM part_copy WHERE here_until >= NOW(3) GROUP BY part',
        );

        return Scalar::ints($copies);
    }

    /** @return array<string, PartReport> by the part's name: what its copies say together */
    public function now(Instant $now): array
    {
        $reports = [];
        $rows = $this->database->connection->iterateNumeric('SELECT name, at, figures FROM part_status ORDER BY name, slot');
        foreach ($rows as [$name, $at, $figures]) {
            /** @var array<string, float> $figures */
            $figures = json_decode(Scalar::text($figures), true, 4, JSON_THROW_ON_ERROR);
            $report = new PartReport(Scalar::text($name), $now->since(Scalar::instant($at))->ms, (object) $figures);
            $reports[$report->name] = isset($reports[$report->name]) ? $reports[$report->name]->with($report) : $report;
        }

        return $reports;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\KeptNumbers;
use Olivine\Core\Exposition\Limits;

/** What targets may bring now. */
final readonly class TargetLimits
{
    private KeptNumbers $kept;

    public function __construct(Connection $connection)
    {
        $this->kept = new KeptNumbers($connection, 'target_limits');
    }

    /** @return array<string, int> */
    public function values(): array
    {
        $usual = [];
        foreach (TargetLimit::cases() as $limit) {
            $usual[$limit->value] = $limit->usual();
        }

        return $this->kept->over($usual);
    }

    /** @param array<string, int> $values */
    public function keep(array $values): void
    {
        $this->kept->keep($values);
    }

    public function limits(): Limits
    {
        $values = $this->values();
        $series = $values[TargetLimit::SeriesAScrape->value];

        return new Limits(
            bodyBytes: 1_000_000 * $values[TargetLimit::AnswerMegabytes->value],
            series: $series,
            // Series with times of their own may bring several readings each.
            readings: max((new Limits())->readings, 5 * $series),
            labels: $values[TargetLimit::Labels->value],
            labelBytes: $values[TargetLimit::LabelBytes->value],
            newSeriesAnHour: $values[TargetLimit::NewSeriesAnHour->value],
            knownSeries: $values[TargetLimit::SeriesEver->value],
            lateMs: 60_000 * $values[TargetLimit::LateMinutes->value],
        );
    }
}

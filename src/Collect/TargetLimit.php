<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\Core\Exposition\Limits;

/** What a target may bring, as it is set in Setup. */
enum TargetLimit: string
{
    case AnswerMegabytes = 'answerMegabytes';
    case SeriesAScrape = 'seriesAScrape';
    case NewSeriesAnHour = 'newSeriesAnHour';
    case SeriesEver = 'seriesEver';
    case Labels = 'labels';
    case LabelBytes = 'labelBytes';
    case LateMinutes = 'lateMinutes';
    case EvidenceDays = 'evidenceDays';
    case RunDays = 'runDays';

    public function usual(): int
    {
        $usual = new Limits();

        return match ($this) {
            self::AnswerMegabytes => intdiv($usual->bodyBytes, 1_000_000),
            self::SeriesAScrape => $usual->series,
            self::NewSeriesAnHour => $usual->newSeriesAnHour,
            self::SeriesEver => $usual->knownSeries,
            self::Labels => $usual->labels,
            self::LabelBytes => $usual->labelBytes,
            self::LateMinutes => intdiv($usual->lateMs, 60_000),
            self::EvidenceDays => 14,
            self::RunDays => 90,
        };
    }

    /** @return array{int, int} the least and the most that can be set */
    public function range(): array
    {
        return match ($this) {
            self::AnswerMegabytes => [1, 200],
            self::SeriesAScrape => [100, 200_000],
            self::NewSeriesAnHour => [10, 200_000],
            self::SeriesEver => [100, 1_000_000],
            self::Labels => [5, 200],
            self::LabelBytes => [50, 10_000],
            self::LateMinutes => [0, 1_440],
            self::EvidenceDays => [1, 365],
            self::RunDays => [7, 730],
        };
    }

    public function words(): string
    {
        return match ($this) {
            self::AnswerMegabytes => 'megabytes an answer',
            self::SeriesAScrape => 'series a scrape',
            self::NewSeriesAnHour => 'new series an hour, after the first scrape',
            self::SeriesEver => 'series it has ever brought',
            self::Labels => 'labels a series',
            self::LabelBytes => 'bytes a label value',
            self::LateMinutes => 'minutes that a reading with a time of its own may come late',
            self::EvidenceDays => 'days that what was seen when a check failed is kept',
            self::RunDays => 'days that the runs of jobs are kept',
        };
    }
}

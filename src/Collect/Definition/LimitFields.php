<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Collect\TargetLimit;
use Olivine\App\Platform\Definition\Field\Numbers;

/** What a target may bring, as a person sets it; what is left out stays as it is. */
final readonly class LimitFields
{
    /** @param array<array-key, int> $was the values that were read */
    public function __construct(
        #[Numbers]
        public array $was,
        #[WithinLimit(TargetLimit::AnswerMegabytes)]
        public ?int $answerMegabytes = null,
        #[WithinLimit(TargetLimit::SeriesAScrape)]
        public ?int $seriesAScrape = null,
        #[WithinLimit(TargetLimit::NewSeriesAnHour)]
        public ?int $newSeriesAnHour = null,
        #[WithinLimit(TargetLimit::SeriesEver)]
        public ?int $seriesEver = null,
        #[WithinLimit(TargetLimit::Labels)]
        public ?int $labels = null,
        #[WithinLimit(TargetLimit::LabelBytes)]
        public ?int $labelBytes = null,
        #[WithinLimit(TargetLimit::LateMinutes)]
        public ?int $lateMinutes = null,
        #[WithinLimit(TargetLimit::EvidenceDays)]
        public ?int $evidenceDays = null,
        #[WithinLimit(TargetLimit::RunDays)]
        public ?int $runDays = null,
    ) {
    }

    /**
     * @param array<string, int> $before
     *
     * @return array<string, int> the same with what was set laid over
     */
    public function over(array $before): array
    {
        /** @var array<string, int> $given */
        $given = array_filter(array_diff_key(get_object_vars($this), ['was' => 1]), is_int(...));

        return array_replace($before, $given);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** How the usual value of a series is found from its past. */
enum BaselineMethod: string
{
    case Median = 'median';
    case Mean = 'mean';
    /** Weights that halve with every eighth of the span. */
    case Ewma = 'ewma';
    /** The median of the same hour of the day (half an hour to either side) on each day before. */
    case SameHour = 'same_hour';
    /** The same on each day before that is the same day of the week. */
    case SameWeekday = 'same_weekday';
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** Of what is foreseen. */
enum ForeseenPart
{
    /** The highest value within the time. */
    case Highest;
    /** The lowest value within the time. */
    case Lowest;
    /** How far off such a forecast usually is, by the series' own past. */
    case Error;
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Series;

/** How much of roll-ups is wanted: reading less is quicker. */
enum Detail
{
    /** How many and their sum. */
    case Sums;
    case Everything;
}

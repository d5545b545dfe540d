<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** What a distance from the usual is measured in. */
enum Yardstick: string
{
    case Mad = 'mad';
    case Stddev = 'stddev';
}

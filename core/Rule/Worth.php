<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** What a person says of an alert afterwards. */
enum Worth: string
{
    case Useful = 'useful';
    case Noise = 'noise';
}

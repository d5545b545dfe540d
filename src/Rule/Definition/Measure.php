<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

/** In what a change is measured. */
enum Measure: string
{
    case Amount = 'amount';
    case Share = 'share';
}

<?php

declare(strict_types=1);

namespace Olivine\App\Recipe;

/** How much a finding matters; none of them wakes anybody. */
enum FindingGrade: string
{
    /** It will do harm one day. */
    case Mend = 'mend';
    case Look = 'look';
    case Know = 'know';
}

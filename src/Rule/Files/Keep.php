<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

/** Which is meant where a rule was changed by hand and its file says otherwise. */
enum Keep: string
{
    case Hand = 'hand';
    case File = 'file';
}

<?php

declare(strict_types=1);

namespace Olivine\App\Files;

/** Which is meant where something was changed by hand and its file says otherwise. */
enum Keep: string
{
    case Hand = 'hand';
    case File = 'file';
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

enum Planned: string
{
    case Add = 'add';
    case Change = 'change';
    case Remove = 'remove';
    /** Says the same as its file; only where it comes from is noted. */
    case Adopt = 'adopt';
    /** Changed here since the last apply, and in the file, too, or back in it: a person says which of them is meant. */
    case ByHand = 'by hand';
    case Same = 'same';
}

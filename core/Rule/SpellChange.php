<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** What becomes of an alert when its rule is changed. */
enum SpellChange: string
{
    case Kept = 'kept';
    case Sooner = 'sooner';
    case Later = 'later';
    case New = 'new';
    case Gone = 'gone';
}

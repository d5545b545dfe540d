<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

/** Where somebody found a code. */
enum Arrived: string
{
    case Inbox = 'inbox';
    case Junk = 'junk';
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

enum Listener: string
{
    case OnCall = 'on call';
    case NextOnRoster = 'next on the roster';
}

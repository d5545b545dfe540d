<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

/** Whom a rung means. */
enum Listener: string
{
    case OnCall = 'on call';
    case NextOnRoster = 'next on the roster';
    case Person = 'person';
    case Team = 'team';
    case Role = 'role';
    case Owner = 'owner of the rule';
}

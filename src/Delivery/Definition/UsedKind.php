<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

/** What a plan can name. */
enum UsedKind: string
{
    case Person = 'person';
    case Team = 'team';
    case Role = 'role';
    case Channel = 'channel';
    case Roster = 'roster';
}

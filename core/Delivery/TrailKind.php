<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

enum TrailKind: string
{
    case Alert = 'alert';
    case Told = 'told';
    case HeldBack = 'held back';
    case Failed = 'failed';
    case Person = 'person';
    case Note = 'note';
}

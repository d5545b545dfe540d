<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

enum TakeMode
{
    case Live;
    /** Recorded history: incidents are written, nobody is told. */
    case Replay;
}

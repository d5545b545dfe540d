<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** Of what is usual: the value itself, or the yardstick by which a distance from it is measured. */
enum UsualPart
{
    case Centre;
    case Spread;
}

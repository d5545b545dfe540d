<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** How a condition finds one label set at one instant. */
enum Standing
{
    /** Past its limit. */
    case Past;
    /** Not past the limit, and not back behind the clear limit either. */
    case Between;
    /** Behind the clear limit: all is well. */
    case Back;
    /** Nobody can tell. */
    case Unknown;
}

<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition;

/** The argument of a controller that the body of the request brings. */
#[\Attribute(\Attribute::TARGET_PARAMETER)]
final readonly class Body
{
}

<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

/** What the controller does to the database is kept as a whole, with its audit entry, or not at all. */
#[\Attribute(\Attribute::TARGET_METHOD)]
final readonly class AsAWhole
{
}

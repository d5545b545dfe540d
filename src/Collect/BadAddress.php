<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

/** An address that cannot be asked, and what it must be. */
final class BadAddress extends \RuntimeException
{
}

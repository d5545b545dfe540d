<?php

declare(strict_types=1);

namespace Olivine\App\Store;

/** A question that would read more than one may. */
final class TooMuchToRead extends \RuntimeException
{
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Station;

/** Why a station and its centre do not come together. */
final class StationFault extends \RuntimeException
{
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

/** A message was not taken by the other side; it says why, in its own words where it has some. */
final class NotTaken extends \RuntimeException
{
}

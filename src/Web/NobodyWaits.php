<?php

declare(strict_types=1);

namespace Olivine\App\Web;

/** Whoever asked has gone, so the rest of an answer need not be worked out. */
final class NobodyWaits extends \RuntimeException
{
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

/** A scrape of which nothing is kept, and why, with the remedy. */
final class ScrapeRefused extends \RuntimeException
{
}

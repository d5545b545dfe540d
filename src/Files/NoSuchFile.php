<?php

declare(strict_types=1);

namespace Olivine\App\Files;

/** A file or folder that was named and cannot be read. */
final class NoSuchFile extends \RuntimeException
{
}

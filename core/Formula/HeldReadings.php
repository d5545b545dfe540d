<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\Select;

/** Readings that are held from one look to the next, so that a look reads only what is newer than the look before. */
interface HeldReadings extends ReadingSource
{
    /** Something came to light that was there before: these are read anew at the next look. */
    public function forget(Select $what): void;
}

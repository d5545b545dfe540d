<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition;

/** A definition beside which more is told; that may come back as it was read, and changes nothing. */
interface ReadBack
{
    /** @return list<string> */
    public static function readBack(): array;
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** How long whoever asked is ready to wait. Asked again and again in the middle of long work. */
interface Patience
{
    /** @throws TooMuchToRead where it took too long already */
    public function goOn(): void;
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Series;

final class DamagedBlock extends \RuntimeException
{
    public static function unreadable(): self
    {
        return new self(
            'A packed block could not be read back: its bytes are damaged. Run the store check and restore the block from a backup.',
        );
    }
}

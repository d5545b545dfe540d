<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** Which way something goes that is too much. */
enum Way: string
{
    case Rises = 'rises';
    case Falls = 'falls';
    case Moves = 'moves';

    public function past(): string
    {
        return match ($this) {
            self::Rises => 'rose',
            self::Falls => 'fell',
            self::Moves => 'moved',
        };
    }
}

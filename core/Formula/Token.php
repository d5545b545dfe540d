<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\Place;

final readonly class Token
{
    public function __construct(public TokenKind $kind, public string $text, public Place $place)
    {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

enum TokenKind
{
    case Number;
    case Text;
    case Name;
    case Quoted;
    case Sign;
    case End;
}

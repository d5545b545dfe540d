<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

enum DocumentKind: string
{
    case Json = 'json';
    case Xml = 'xml';
    case Html = 'html';
}

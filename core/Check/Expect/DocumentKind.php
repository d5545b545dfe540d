<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

enum DocumentKind: string
{
    case Json = 'json';
    case Xml = 'xml';
    case Html = 'html';
    /** Lines that a person could read: a value stands where the words around it say. */
    case Text = 'text';
}

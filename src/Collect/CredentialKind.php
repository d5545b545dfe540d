<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

enum CredentialKind: string
{
    case Basic = 'basic';
    case Bearer = 'bearer';
    case Header = 'header';
    case Certificate = 'certificate';
}

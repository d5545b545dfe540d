<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Collect\CredentialKind;

enum CredentialChoice: string
{
    case None = 'none';
    case Basic = 'basic';
    case Bearer = 'bearer';
    case Header = 'header';
    case Certificate = 'certificate';

    public function kind(): ?CredentialKind
    {
        return CredentialKind::tryFrom($this->value);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\People;

enum Role: string
{
    /** Reads everything. */
    case Viewer = 'viewer';
    /** Also answers incidents, writes rules, adds targets. */
    case Engineer = 'engineer';
    /** Also keeps the people. */
    case Administrator = 'administrator';

    public function granted(): string
    {
        return 'ROLE_' . strtoupper($this->value);
    }
}

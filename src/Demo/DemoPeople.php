<?php

declare(strict_types=1);

namespace Olivine\App\Demo;

use Olivine\App\People\Role;

/** Made-up people of the demo. */
final class DemoPeople
{
    public const PASSWORD = 'salt-and-marsh';
    /** The webhook that is told where mail fails, and what its messages are signed with. */
    public const WEBHOOK = 'harbour-board';
    public const WEBHOOK_SECRET = 'the-tide-table-hangs-by-the-door';

    /** @var list<array{string, string, Role}> one of each role */
    public const SIGN_INS = [
        ['Mirela Novak', 'viewer@saltmarsh.example', Role::Viewer],
        ['Ines Duarte', 'ines@saltmarsh.example', Role::Engineer],
        ['Anselm Okoye', 'admin@saltmarsh.example', Role::Administrator],
    ];

    /** @var list<array{string, string, Role}> the rest */
    public const OTHERS = [
        ['Tomasz Reyes', 'tomasz@saltmarsh.example', Role::Engineer],
        ['Oyelaran Bright', 'oyelaran@saltmarsh.example', Role::Engineer],
        ['Mei-Lin Aaker', 'mei-lin@saltmarsh.example', Role::Engineer],
        ['Sunniva Patel', 'sunniva@saltmarsh.example', Role::Engineer],
    ];
}

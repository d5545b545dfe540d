<?php

declare(strict_types=1);

namespace Olivine\App\People\Definition;

use Olivine\App\People\Passwords;
use Olivine\App\People\Role;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Secret;

final readonly class NewPerson
{
    public function __construct(
        #[Line(180, 3)]
        public string $email,
        #[Line(120, 1)]
        public string $name,
        public Role $role,
        #[Secret(Passwords::LONGEST)]
        public string $password = '',
    ) {
    }
}

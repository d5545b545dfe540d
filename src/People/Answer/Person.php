<?php

declare(strict_types=1);

namespace Olivine\App\People\Answer;

use Olivine\App\People\Role;

readonly class Person
{
    public function __construct(public int $id, public string $name, public string $email, public Role $role)
    {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\People\Definition;

use Olivine\App\People\Passwords;
use Olivine\App\People\Role;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Secret;
use Olivine\App\Platform\Definition\Field\Whole;

final readonly class NewPerson
{
    /** @param int|null $rotaPlace null for people who take no shifts */
    public function __construct(
        #[Line(180, 3)]
        public string $email,
        #[Line(120, 1)]
        public string $name,
        public Role $role,
        #[Secret(Passwords::LONGEST)]
        public string $password = '',
        #[Whole(1, 99)]
        public ?int $rotaPlace = null,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\People\Definition;

use Olivine\App\People\Role;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\App\Platform\Definition\Field\YesOrNo;

final readonly class PersonFields
{
    /**
     * @param bool|null $barred  left out, it stays as it is
     * @param int|null  $version what was read
     */
    public function __construct(
        public Role $role,
        #[YesOrNo]
        public ?bool $barred = null,
        #[Whole(1, PHP_INT_MAX)]
        public ?int $version = null,
    ) {
    }
}

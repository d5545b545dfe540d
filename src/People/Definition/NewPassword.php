<?php

declare(strict_types=1);

namespace Olivine\App\People\Definition;

use Olivine\App\People\Passwords;
use Olivine\App\Platform\Definition\Field\Secret;

final readonly class NewPassword
{
    public function __construct(
        #[Secret(Passwords::LONGEST)]
        public string $old = '',
        #[Secret(Passwords::LONGEST)]
        public string $new = '',
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\App\People\Role;

/** An action that is prepared. */
final readonly class ShownAction
{
    /**
     * @param string      $url    whole for administrators, for others the host
     * @param bool        $may    whether whoever looks may do it
     * @param string|null $secret shown once, where it was made up
     */
    public function __construct(
        public int $id,
        public string $name,
        public string $words,
        public string $matching,
        public string $url,
        public string $command,
        public Role $role,
        public bool $may,
        public int $version,
        public ?string $secret = null,
    ) {
    }
}

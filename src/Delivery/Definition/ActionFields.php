<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Delivery\Entity\PreparedAction;
use Olivine\App\People\Role;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Secret;
use Olivine\App\Platform\Definition\Field\Whole;

/** What may be done about an alert at the press of a button. */
final readonly class ActionFields
{
    /**
     * @param string      $words    what it does, as whoever presses is asked once more
     * @param string      $matching a filter: of which alerts and targets it may be done
     * @param string      $command  of an agent: one of those that it allows; "": of another program
     * @param string|null $secret   what is sent is signed with; null: as it is, or of a new one a made-up one
     * @param int|null    $version  what was read, to change it
     */
    public function __construct(
        #[Line(PreparedAction::NAME_LENGTH, 1)]
        public string $name,
        #[Line(PreparedAction::WORDS_LENGTH, 1)]
        public string $words,
        #[Line(2_000, 1)]
        public string $matching,
        #[Line(2_000, 1)]
        public string $url,
        #[Line(PreparedAction::COMMAND_LENGTH)]
        public string $command = '',
        public Role $role = Role::Engineer,
        #[Secret(200)]
        public ?string $secret = null,
        #[Whole(1, PHP_INT_MAX)]
        public ?int $version = null,
    ) {
    }
}

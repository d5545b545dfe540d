<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Definition\Field\Labels;
use Olivine\App\Platform\Definition\Field\Text;
use Olivine\App\Platform\Definition\Field\Whole;

/** What the targets of a group have in common. */
final readonly class GroupFields
{
    /**
     * @param array<string, string> $labels
     * @param int|null              $version what was read, to change it
     */
    public function __construct(
        #[Text(Target::NAME_LENGTH)]
        public string $name,
        #[Whole(5, 3_600)]
        public int $intervalSeconds = 15,
        #[Whole(1, 60)]
        public ?int $timeoutSeconds = null,
        #[Labels]
        public array $labels = [],
        public ?CredentialFields $credential = null,
        #[Whole(1, PHP_INT_MAX)]
        public ?int $version = null,
    ) {
    }
}

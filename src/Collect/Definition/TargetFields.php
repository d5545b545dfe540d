<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Definition\Field\Labels;
use Olivine\App\Platform\Definition\Field\Text;
use Olivine\App\Platform\Definition\Field\Whole;

/** A target as a person writes it; what is left out comes from its group, or is as usual. */
final readonly class TargetFields
{
    /**
     * @param array<string, string> $labels
     * @param int|null              $id      of one that is there, to test it with the credential it has
     * @param int|null              $version what was read, to change it
     */
    public function __construct(
        #[Text(2_000, 1)]
        public string $url,
        #[Text(Target::NAME_LENGTH)]
        public ?string $name = null,
        #[Whole(1, PHP_INT_MAX)]
        public ?int $group = null,
        #[Whole(5, 3_600)]
        public ?int $intervalSeconds = null,
        #[Whole(1, 60)]
        public ?int $timeoutSeconds = null,
        #[Labels]
        public array $labels = [],
        public ?CredentialFields $credential = null,
        #[Whole(1, PHP_INT_MAX)]
        public ?int $id = null,
        #[Whole(1, PHP_INT_MAX)]
        public ?int $version = null,
    ) {
    }
}

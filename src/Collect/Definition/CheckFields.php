<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Definition\Field\Ids;
use Olivine\App\Platform\Definition\Field\Labels;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\ListOf;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\App\Platform\Definition\Field\YesOrNo;

/** A check as a person writes it. */
final readonly class CheckFields
{
    /**
     * @param string                $name
     * @param int                   $intervalSeconds from 5 s to a day
     * @param int|null              $slowMs          above this its answer is slow
     * @param array<string, string> $labels
     * @param list<int>             $places          where it is asked from
     * @param list<SecretFields>    $secrets         all that it has; one that is left out is taken away
     * @param bool                  $isReference     what it asks is always up, so where nothing of the kind answers a place is cut off
     * @param int|null              $id              of one that is there, to try it with the secrets it has
     * @param int|null              $version         what was read, to change it
     */
    public function __construct(
        public AskFields $asks,
        #[Line(Target::NAME_LENGTH)]
        public string $name = '',
        #[Whole(5, 86_400)]
        public int $intervalSeconds = 60,
        #[Whole(1, 60_000)]
        public ?int $slowMs = null,
        #[Labels]
        public array $labels = [],
        #[Ids(200)]
        public array $places = [1],
        #[ListOf(SecretFields::class, 0, 20)]
        public array $secrets = [],
        #[YesOrNo]
        public bool $isReference = false,
        #[Whole(1, PHP_INT_MAX)]
        public ?int $id = null,
        #[Whole(1, PHP_INT_MAX)]
        public ?int $version = null,
    ) {
    }
}

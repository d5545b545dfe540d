<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Text;
use Olivine\App\Platform\Definition\Field\Whole;

/** Who has an incident in hand from now on. */
final readonly class AssignFields
{
    /**
     * @param int      $person     their id
     * @param int|null $forSeconds when that is over its ladder begins anew; null: until it is over
     */
    public function __construct(
        #[Whole(1, PHP_INT_MAX)]
        public int $person,
        #[Text(1_000)]
        public string $note = '',
        #[Whole(300, 7 * 86_400)]
        public ?int $forSeconds = null,
    ) {
    }
}

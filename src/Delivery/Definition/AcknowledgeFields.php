<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Text;
use Olivine\App\Platform\Definition\Field\Whole;

/** For how long somebody has an incident in hand, and what there is to say of it. */
final readonly class AcknowledgeFields
{
    /** @param int|null $forSeconds when that is over its ladder begins anew; null: until it is over */
    public function __construct(
        #[Whole(300, 7 * 86_400)]
        public ?int $forSeconds = null,
        #[Text(1_000)]
        public string $note = '',
    ) {
    }
}

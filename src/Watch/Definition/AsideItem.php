<?php

declare(strict_types=1);

namespace Olivine\App\Watch\Definition;

use Olivine\App\Platform\Definition\Field\Text;

/** What was set aside, by the part and its subject. */
final readonly class AsideItem
{
    private const LONGEST = 190;

    public function __construct(
        #[Text(self::LONGEST, 1)]
        public string $part,
        #[Text(self::LONGEST, 1)]
        public string $subject,
    ) {
    }
}

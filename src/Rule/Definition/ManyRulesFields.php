<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\App\Platform\Definition\Field\Ids;

/** Many rules switched on or off at once. */
final readonly class ManyRulesFields
{
    private const MOST_AT_ONCE = 5_000;

    /** @param non-empty-list<int> $ids */
    public function __construct(public bool $enabled, #[Ids(self::MOST_AT_ONCE)] public array $ids)
    {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Collect\ManyAction;
use Olivine\App\Platform\Definition\Field\Ids;

/** One thing done to many targets. */
final readonly class ManyFields
{
    private const MOST_AT_ONCE = 5_000;

    /** @param non-empty-list<int> $ids */
    public function __construct(public ManyAction $action, #[Ids(self::MOST_AT_ONCE)] public array $ids)
    {
    }
}

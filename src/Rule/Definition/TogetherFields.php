<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\App\Platform\Definition\Field\Names;
use Olivine\App\Platform\Definition\Field\Number;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Together;

/** One alert for a whole group, where enough of its members are past the limit. */
final readonly class TogetherFields
{
    /**
     * @param list<string> $per   labels that make a group; none: all of them are one
     * @param int          $least so many members
     * @param float|null   $share or this share of those that are there, whichever is more
     */
    public function __construct(
        #[Names(100)]
        public array $per = [],
        #[Whole(1, 100_000)]
        public int $least = 1,
        #[Number]
        public ?float $share = null,
    ) {
    }

    /** @throws BadRule naming the field that cannot be so */
    public function core(): Together
    {
        return new Together($this->per, $this->least, $this->share);
    }
}

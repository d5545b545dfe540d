<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Platform\Definition\Field\Line;

/** What is taken from an answer, to be filled into the requests after it. */
final readonly class TakenFields
{
    /**
     * @param string $name  by which it is filled in: `{token}`
     * @param string $where `json /token`, `xml //token`, `html //input[@name="csrf"]/@value` or `header location`
     */
    public function __construct(
        #[Line(40, 1)]
        public string $name,
        #[Line(520, 1)]
        public string $where,
    ) {
    }
}

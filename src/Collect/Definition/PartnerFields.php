<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Whole;

/** A database that follows another one. */
final readonly class PartnerFields
{
    /**
     * @param string   $name as its readings carry it
     * @param int|null $port null: that of the engine
     */
    public function __construct(
        #[Line(100, 1)]
        public string $name,
        #[Line(253, 1)]
        public string $host,
        #[Whole(1, 65_535)]
        public ?int $port = null,
    ) {
    }
}

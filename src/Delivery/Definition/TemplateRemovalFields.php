<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Delivery\Entity\KeptChannel;
use Olivine\App\Delivery\Entity\TemplateRevision;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Whole;

/** A template that gives way to what ships. */
final readonly class TemplateRemovalFields
{
    /** @param int $number of the revision that was read */
    public function __construct(
        #[Line(KeptChannel::NAME_LENGTH, 1)]
        public string $way,
        #[Line(TemplateRevision::TEAM_LENGTH)]
        public string $team,
        #[Whole(1, PHP_INT_MAX)]
        public int $number,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Definition\AskFields;
use Olivine\App\Collect\Definition\CheckFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;

/** What a check asks, as it was written. */
final readonly class CheckAsks
{
    public function __construct(private Definitions $definitions)
    {
    }

    /** @throws Problem where it cannot be read any more */
    public function of(Target $check): AskFields
    {
        return $this->definitions->read(CheckFields::class, ['asks' => $check->asks ?? []])->asks;
    }
}

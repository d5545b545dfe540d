<?php

declare(strict_types=1);

namespace Olivine\App\Recipe;

use Olivine\Core\Rule\Side;

/** Something that is wrong with a thing long before it pages: what is looked at, from which value on it is so, and what to do. */
final readonly class RecipeFinding
{
    public function __construct(
        public string $key,
        public string $name,
        public FindingGrade $grade,
        public string $formula,
        public Side $side,
        public float $limit,
        public string $remedy,
    ) {
    }
}

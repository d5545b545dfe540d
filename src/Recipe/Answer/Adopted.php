<?php

declare(strict_types=1);

namespace Olivine\App\Recipe\Answer;

use Olivine\App\Collect\Entity\Target;

/** What is watched by a recipe. */
final readonly class Adopted
{
    public function __construct(public int $id, public string $name, public string $kind)
    {
    }

    public static function of(Target $target): self
    {
        return new self($target->id(), $target->name, $target->kind->value);
    }
}

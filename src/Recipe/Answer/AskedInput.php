<?php

declare(strict_types=1);

namespace Olivine\App\Recipe\Answer;

/** Something that whoever adopts a recipe is asked for. */
final readonly class AskedInput
{
    /** @param string|null $usual what it is where nothing is said; null: it must be said */
    public function __construct(public string $name, public string $label, public string $help, public ?string $usual, public bool $isSecret)
    {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\People\Answer;

final readonly class PersonRow extends Person
{
    public function __construct(Person $of, public bool $barred, public int $version)
    {
        parent::__construct(...get_object_vars($of));
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

final readonly class Told
{
    public function __construct(
        public string $answer,
        public ?int $at,
        public string $person,
        public int $rung,
        public string $status,
    ) {
    }
}

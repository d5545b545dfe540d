<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

final readonly class Told
{
    public function __construct(
        public string $answer,
        public ?Instant $at,
        public string $channel,
        public string $person,
        public int $rung,
        public string $status,
    ) {
    }
}

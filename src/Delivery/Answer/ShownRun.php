<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

/** An action that was done, and what came of it. */
final readonly class ShownRun
{
    /** @param bool|null $done null: nobody knows, or not yet */
    public function __construct(
        public int $id,
        public string $name,
        public string $by,
        public Instant $begunAt,
        public ?Instant $endedAt,
        public ?bool $done,
        public string $output,
    ) {
    }
}

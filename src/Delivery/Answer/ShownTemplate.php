<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

/** A revision of a template. */
final readonly class ShownTemplate
{
    /**
     * @param string $team   "": everyone
     * @param string $author "": nobody any more
     */
    public function __construct(
        public string $way,
        public string $team,
        public int $number,
        public string $subject,
        public string $text,
        public bool $removed,
        public string $author,
        public Instant $at,
    ) {
    }
}

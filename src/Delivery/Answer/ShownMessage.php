<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\App\Delivery\DeliveryStatus;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Instant;

/** A message to somebody, and what became of it. */
final readonly class ShownMessage
{
    /**
     * @param string       $of       what it is of: `rung 1`, `recovery`, `copy`
     * @param string|null  $person   null: whoever reads there
     * @param Instant      $nextAt   when it goes, or is tried again
     * @param Instant|null $heldBack when it was found to be one of too many in an hour
     * @param string       $answer   what the channel said of it last, or why it is not sent
     */
    public function __construct(
        public int $id,
        public int $incident,
        public string $title,
        public Severity $severity,
        public string $of,
        public ?string $person,
        public string $channel,
        public Instant $dueAt,
        public DeliveryStatus $status,
        public int $attempts,
        public Instant $nextAt,
        public ?Instant $sentAt,
        public ?Instant $heldBack,
        public string $answer,
        public string $key,
        public bool $rehearsed,
    ) {
    }
}

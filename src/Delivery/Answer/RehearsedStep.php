<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

/** A step of a rehearsal. */
final readonly class RehearsedStep
{
    /**
     * @param int|null $tookMs of a message from due to taken over there, of an answer since the beginning; null: not yet, or not at all
     * @param bool     $failed whether something is wrong with it
     * @param string   $said   what the channel said
     */
    public function __construct(public Instant $at, public string $words, public ?int $tookMs, public bool $failed, public string $said)
    {
    }
}

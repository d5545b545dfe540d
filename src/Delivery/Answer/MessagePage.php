<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** Messages, newest first. */
final readonly class MessagePage
{
    /**
     * @param list<ShownMessage> $messages
     * @param int|null           $before   older ones are those before this one; null where there are none
     */
    public function __construct(public array $messages, public ?int $before)
    {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** What the first message of a rule would say. */
final readonly class PreviewedMessage
{
    /**
     * @param string|null $subject null where nothing has a value now
     * @param bool        $isPast  whether what it tells is so now
     */
    public function __construct(public ?string $subject, public ?string $text, public bool $isPast)
    {
    }
}

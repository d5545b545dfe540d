<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Template;

/** What a message says: a title, where its channel has one, and a text. */
final readonly class Words
{
    public function __construct(public string $subject, public string $text)
    {
    }
}

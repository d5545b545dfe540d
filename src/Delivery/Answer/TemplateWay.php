<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** A way whose messages may be worded otherwise. */
final readonly class TemplateWay
{
    /** @param bool $titled whether its messages have a title beside their text */
    public function __construct(public string $name, public string $kind, public bool $titled)
    {
    }
}

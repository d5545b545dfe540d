<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

final readonly class HeardPerson
{
    /**
     * @param int $messages That would have told of a raise
     * @param int $atNight  Of these between 22:00 and 06:00
     */
    public function __construct(public string $name, public int $messages, public int $atNight)
    {
    }
}

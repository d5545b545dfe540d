<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

/** What one value of a setting would have raised. */
final readonly class SweptValue
{
    /** @param int $atNight of them raised between 22:00 and 06:00 on the clocks of the site */
    public function __construct(public float $value, public int $alerts, public int $atNight)
    {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Symfony\Component\DependencyInjection\Attribute\AutoconfigureTag;

/** One thing that is measured, beside a baseline of the same run. */
#[AutoconfigureTag]
interface Measure
{
    public function name(): string;

    /** @param callable(string, float, string): void $say figure, value, unit */
    public function run(callable $say): void;
}

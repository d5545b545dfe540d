<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Olivine\Core\Time\Instant;
use Symfony\Component\DependencyInjection\Attribute\AutoconfigureTag;

/** An answer that many look at and that takes too long to work out while they wait. */
#[AutoconfigureTag]
interface SlowAnswer
{
    public function name(): string;

    public function renewEveryMs(): int;

    /** @return array<mixed>|object what JSON can hold */
    public function work(Instant $now): array|object;
}

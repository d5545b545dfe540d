<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Olivine\Core\Time\Instant;
use Symfony\Component\DependencyInjection\Attribute\AutoconfigureTag;

/** Something that is to be done now and again, by whoever keeps the store; one that fails is set aside, and the others go on. */
#[AutoconfigureTag(self::class)]
interface Chore
{
    /** What it does, as it is said where it fails: `telling what is handed over`. */
    public function name(): string;

    public function everyMs(): int;

    /** Done twice it must do no more than done once: another keeper may have begun it. */
    public function do(Instant $now): void;
}

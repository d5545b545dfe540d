<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Entity\Target;
use Olivine\Core\Time\Instant;

/** What is done to many targets at once; each can be taken back by another. */
enum ManyAction: string
{
    case Pause = 'pause';
    case Resume = 'resume';
    case Remove = 'remove';
    case Restore = 'restore';

    public function apply(Target $target, Instant $now): void
    {
        match ($this) {
            self::Pause => ($target->paused = true),
            self::Resume => ($target->paused = false),
            self::Remove => ($target->removedAt = $now),
            self::Restore => ($target->removedAt = null),
        };
    }

    /** Whether it would change anything: what is paused already is not paused again, so taking it back leaves it as it was. */
    public function concerns(Target $target): bool
    {
        return match ($this) {
            self::Pause => !$target->paused && $target->removedAt === null,
            self::Resume => $target->paused && $target->removedAt === null,
            self::Remove => $target->removedAt === null,
            self::Restore => $target->removedAt !== null,
        };
    }

    public function past(): string
    {
        return match ($this) {
            self::Pause => 'paused',
            self::Resume => 'resumed',
            self::Remove => 'removed',
            self::Restore => 'restored',
        };
    }
}

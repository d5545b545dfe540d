<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

/** What a message tells. */
enum MessageKind: string
{
    case Raised = 'raised';
    case Worse = 'worse';
    case Recovered = 'recovered';
    case Lost = 'lost';
    /** Somebody gave it into these hands. */
    case Assigned = 'assigned';
    case CopyOpened = 'copy opened';
    case CopyWorse = 'copy worse';
    case CopyResolved = 'copy resolved';

    /** Whether it only informs. */
    public function isCopy(): bool
    {
        return match ($this) {
            self::CopyOpened, self::CopyWorse, self::CopyResolved => true,
            default => false,
        };
    }

    /** Whether it tells that an incident is over. */
    public function isOfTheEnd(): bool
    {
        return match ($this) {
            self::Recovered, self::Lost, self::CopyResolved => true,
            default => false,
        };
    }
}

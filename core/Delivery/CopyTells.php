<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

/** What a copy informs of. */
enum CopyTells: string
{
    case Opened = 'opened';
    case Worse = 'worse';
    case Resolved = 'resolved';

    public function message(): MessageKind
    {
        return match ($this) {
            self::Opened => MessageKind::CopyOpened,
            self::Worse => MessageKind::CopyWorse,
            self::Resolved => MessageKind::CopyResolved,
        };
    }
}

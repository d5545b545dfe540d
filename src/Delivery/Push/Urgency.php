<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Push;

use Olivine\Core\Rule\Severity;

/** How soon a device that saves its battery is woken (RFC 8030, 5.3). */
enum Urgency: string
{
    case Low = 'low';
    case Normal = 'normal';
    case High = 'high';

    public static function of(Severity $severity): self
    {
        return $severity->isWorseThan(Severity::Minor) ? self::High : self::Normal;
    }
}

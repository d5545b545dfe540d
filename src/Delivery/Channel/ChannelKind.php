<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\Platform\PartName;

/** The kinds of ways that people set up, beside the mail that is always there. */
enum ChannelKind: string
{
    case Webhook = 'webhook';
    case Chat = 'chat';
    case Sms = 'SMS';
    case Voice = 'voice';
    case Ticket = 'ticket';

    /** Whose queue its messages wait in. */
    public function part(): PartName
    {
        return match ($this) {
            self::Webhook => PartName::Webhooks,
            self::Chat => PartName::Chat,
            self::Sms => PartName::Sms,
            self::Voice => PartName::Voice,
            self::Ticket => PartName::Tickets,
        };
    }

    /** Whether it reaches a person by a number of their own. */
    public function isByNumber(): bool
    {
        return $this === self::Sms || $this === self::Voice;
    }
}

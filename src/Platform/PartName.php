<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

/** The parts that work in the background. Several copies of one may run: they share its work slot by slot. */
enum PartName: string
{
    case Collector = 'collector';
    case Evaluator = 'evaluator';
    case Dispatcher = 'dispatcher';
    case Keeper = 'keeper';
    /** Sends e-mail. */
    case Mail = 'mail';
    /** Sends to webhooks. */
    case Webhooks = 'webhooks';
    /** Says it in chat rooms. */
    case Chat = 'chat';
    /** Sends SMS. */
    case Sms = 'sms';
    /** Calls. */
    case Voice = 'voice';
    /** Opens tickets, and goes on with them. */
    case Tickets = 'tickets';
    /** Tells browsers. */
    case Push = 'push';

    /** @return positive-int how many shares its work is cut into; changing it lets targets and rules change hands */
    public function slots(): int
    {
        return $this === self::Keeper ? 1 : 16;
    }

    /** Whether it may work for long between two questions to the database: sealing a day takes its time. */
    public function mayWorkLong(): bool
    {
        return $this === self::Keeper;
    }

    /** @return int the share that a target (collector), a rule (evaluator) or an incident (dispatcher, and whoever sends) belongs to */
    public function slotOf(int $id): int
    {
        return $id % $this->slots();
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Doctrine\DBAL\Connection;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Event\ControllerArgumentsEvent;
use Symfony\Component\HttpKernel\Event\ExceptionEvent;
use Symfony\Component\HttpKernel\Event\ResponseEvent;

/** Holds one transaction around each controller that asks for it; whoever hears that a change was made can rely on it. */
final readonly class WholeChanges
{
    private const BEGUN = '_as_a_whole';
    private const MAY_BE_TRIED_AGAIN = '_nothing_is_kept';
    private const AFTER_RIGHTS_ARE_CHECKED = 0;
    private const BEFORE_THE_ANSWER_IS_MADE = 100;

    public function __construct(private Connection $connection)
    {
    }

    /** Whether all of it was taken back since two changes waited for each other: then it may be done once more, and nobody need hear of it. */
    public static function mayBeTriedAgain(Request $request): bool
    {
        return $request->attributes->get(self::MAY_BE_TRIED_AGAIN) === true;
    }

    #[AsEventListener(priority: self::AFTER_RIGHTS_ARE_CHECKED)]
    public function begin(ControllerArgumentsEvent $event): void
    {
        if ($event->getAttributes(AsAWhole::class) !== []) {
            $this->connection->beginTransaction();
            $event->getRequest()->attributes->set(self::BEGUN, true);
        }
    }

    /** Fails where the transaction was lost on the way, and so does the request. */
    #[AsEventListener(priority: self::BEFORE_THE_ANSWER_IS_MADE)]
    public function keep(ResponseEvent $event): void
    {
        if ($event->getRequest()->attributes->get(self::BEGUN) === true) {
            $event->getRequest()->attributes->remove(self::BEGUN);
            $this->connection->commit();
        }
    }

    /** A server that went away in the middle has dropped it already; whoever asked shall hear of the first fault, not of this one. */
    #[AsEventListener(priority: self::BEFORE_THE_ANSWER_IS_MADE)]
    public function drop(ExceptionEvent $event): void
    {
        $attributes = $event->getRequest()->attributes;
        $hadBegun = $attributes->get(self::BEGUN) === true;
        $attributes->remove(self::BEGUN);
        try {
            if ($this->connection->isTransactionActive()) {
                $this->connection->rollBack();
            }
        } catch (\Throwable) {
            $this->connection->close();
        }
        $attributes->set(self::MAY_BE_TRIED_AGAIN, $hadBegun && Database::metAnother($event->getThrowable()));
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Olivine\App\Platform\Settings;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\Session\SessionInterface;
use Symfony\Component\HttpKernel\Event\ControllerEvent;
use Symfony\Component\HttpKernel\Event\RequestEvent;

/** When a session is over, and how long a request holds it. */
final readonly class SessionEnds
{
    private const BEFORE_ANYBODY_IS_KNOWN = 10;

    public function __construct(private Settings $settings)
    {
    }

    /** After some hours of nothing, and after some days whatever somebody does. */
    #[AsEventListener(priority: self::BEFORE_ANYBODY_IS_KNOWN)]
    public function endOldOnes(RequestEvent $event): void
    {
        $request = $event->getRequest();
        if (!$request->hasPreviousSession()) {
            return;
        }
        $session = $request->getSession();
        if ($this->isOver($session, time())) {
            $session->invalidate();
        }
    }

    /** Who asks is known by now, so other requests of the same person need not wait for this one. */
    #[AsEventListener]
    public function letGo(ControllerEvent $event): void
    {
        $request = $event->getRequest();
        if ($request->hasSession() && $request->getSession()->isStarted()) {
            $request->getSession()->save();
        }
    }

    private function isOver(SessionInterface $session, int $now): bool
    {
        // What is known of a session is read when it begins.
        $session->start();
        $about = $session->getMetadataBag();

        return $about->getLastUsed() < $now - 3_600 * $this->settings->idleHours()
            || $about->getCreated() < $now - 86_400 * $this->settings->sessionDays();
    }
}

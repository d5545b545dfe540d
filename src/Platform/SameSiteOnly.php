<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\RequestEvent;

/**
 * Another site's page cannot make a change through a signed-in browser: a request that changes something must come
 * from our own origin, by what the browser itself says of it, and carry JSON or a file's bytes, which a foreign form cannot.
 */
#[AsEventListener(priority: 300)]
final class SameSiteOnly
{
    public function __invoke(RequestEvent $event): void
    {
        $request = $event->getRequest();
        if (!str_starts_with($request->getPathInfo(), '/api/') || $request->isMethodSafe()) {
            return;
        }
        // Whoever shows a token is no signed-in browser; another site's page could not even send one without asking us first.
        if (stripos((string) $request->headers->get('Authorization'), 'bearer ') === 0) {
            return;
        }
        $origin = $request->headers->get('Origin');
        $site = $request->headers->get('Sec-Fetch-Site');
        $foreign =
            ($origin !== null && $origin !== $request->getSchemeAndHttpHost()) || ($site !== null && $site !== 'same-origin');
        if (
            $foreign
            || preg_match('~^application/(?:json|octet-stream)\b~', (string) $request->headers->get('Content-Type')) !== 1
        ) {
            $event->setResponse(Problem::response(403, 'Changes are taken as JSON or a file and only from Olivine\'s own pages'));
        }
    }
}

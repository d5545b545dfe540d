<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\RequestEvent;

/** What stands in an address is text: bytes that are none are turned away before anything looks at them. */
#[AsEventListener(priority: 310)]
final class ReadableAddresses
{
    public function __invoke(RequestEvent $event): void
    {
        $request = $event->getRequest();
        if (
            str_starts_with($request->getPathInfo(), '/api/')
            && !mb_check_encoding(urldecode($request->getRequestUri()), 'UTF-8')
        ) {
            $event->setResponse(Problem::response(400, 'This address holds bytes that are not UTF-8'));
        }
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Psr\Log\LoggerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Event\ExceptionEvent;
use Symfony\Component\HttpKernel\Exception\HttpExceptionInterface;

/** What goes wrong beside the API is said in a line: whoever asks learns nothing of how we are made. */
#[AsEventListener(priority: -64)]
final readonly class PlainErrors
{
    public function __construct(private LoggerInterface $logger)
    {
    }

    public function __invoke(ExceptionEvent $event): void
    {
        if (self::isProgram($event->getRequest())) {
            return;
        }
        $error = $event->getThrowable();
        $status = $error instanceof HttpExceptionInterface ? $error->getStatusCode() : 500;
        if ($status >= 500) {
            $this->logger->error('{exception}', ['exception' => $error]);
        }
        $words = match (true) {
            $status === 404 => 'There is nothing here. Links in messages work for three days.',
            $status < 500 => 'This cannot be asked like this.',
            default => 'Olivine failed to do this; try again in a moment.',
        };
        $event->setResponse(
            new Response("{$words}\n", $status, [
                'Content-Type' => 'text/plain; charset=utf-8',
                'Cache-Control' => 'no-store',
                'Referrer-Policy' => 'no-referrer',
            ]),
        );
    }

    /** Whether a program asks, which reads what is wrong as JSON. */
    public static function isProgram(Request $request): bool
    {
        return preg_match('~^/(api|in)/~', $request->getPathInfo()) === 1;
    }
}

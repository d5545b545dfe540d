<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Olivine\App\Web\NobodyWaits;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\TookTooLong;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\BadRule;
use Psr\Log\LoggerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Event\ExceptionEvent;
use Symfony\Component\HttpKernel\Exception\HttpExceptionInterface;
use Symfony\Component\Security\Core\Exception\AccessDeniedException;
use Symfony\Component\Security\Core\Exception\AuthenticationException;

/** Turns what goes wrong under /api into problem details. */
#[AsEventListener]
final readonly class ApiErrors
{
    public function __construct(private LoggerInterface $logger)
    {
    }

    public function __invoke(ExceptionEvent $event): void
    {
        $error = $event->getThrowable();
        if ($error instanceof NobodyWaits) {
            // No answer is made for nobody; a place that was held is free by now.
            $event->setResponse(Problem::response(499, 'Nobody waits for this any more'));

            return;
        }
        if (
            !PlainErrors::isProgram($event->getRequest())
            || $error instanceof AuthenticationException
            || $error instanceof AccessDeniedException
        ) {
            return;
        }
        $event->setResponse(self::told($error) ?? $this->unexpected($error));
    }

    /** What is wrong with a question, and where; null where the fault is ours. */
    public static function told(\Throwable $error): ?JsonResponse
    {
        return match (true) {
            $error instanceof Problem => Problem::response($error->status, $error->getMessage(), $error->more),
            $error instanceof FormulaError => Problem::response(422, $error->getMessage(), [
                'field' => 'formula',
                'offset' => $error->place->offset,
                'length' => $error->place->length,
                'suggestion' => $error->suggestion,
            ]),
            $error instanceof TookTooLong => Problem::response(504, $error->getMessage(), ['field' => 'formula']),
            $error instanceof TooMuchToRead => Problem::response(422, $error->getMessage(), ['field' => 'formula']),
            $error instanceof BadRule => Problem::response(422, $error->field . ' ' . $error->getMessage(), [
                'field' => $error->field,
            ]),
            $error instanceof HttpExceptionInterface && self::unread($error) !== null => self::unread($error),
            $error instanceof HttpExceptionInterface => Problem::response(
                $error->getStatusCode(),
                $error->getStatusCode() === 403 ? 'Your role does not allow this; ask an administrator' : $error->getMessage(),
            ),
            default => null,
        };
    }

    /** What stands in the address and is not what it must be, in our words. */
    private static function unread(HttpExceptionInterface $error): ?JsonResponse
    {
        if (preg_match('~^Input value "([^"]+)" (is invalid|contains)~', $error->getMessage(), $part) !== 1) {
            return null;
        }
        $must = $part[2] === 'contains' ? 'be given once' : 'be a whole number';

        return Problem::response(400, "{$part[1]} must {$must}", ['field' => $part[1]]);
    }

    private function unexpected(\Throwable $error): JsonResponse
    {
        if (Database::mayPass($error)) {
            $this->logger->warning('{message}', ['message' => $error->getMessage()]);

            return Problem::response(503, 'The database does not answer at the moment; try again in some seconds');
        }
        $this->logger->error('{exception}', ['exception' => $error]);

        return Problem::response(500, 'Olivine failed to do this; the log of the web part has the reason');
    }
}

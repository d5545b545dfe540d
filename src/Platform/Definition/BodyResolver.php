<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition;

use Olivine\App\Platform\Problem;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Controller\ValueResolverInterface;
use Symfony\Component\HttpKernel\ControllerMetadata\ArgumentMetadata;
use Symfony\Component\HttpKernel\Event\ControllerArgumentsEvent;

/**
 * Reads the body of a request into the class that the controller names; only after it is known that whoever asks may do so
 * at all, so that nobody learns from a fault what they may not do.
 */
final readonly class BodyResolver implements ValueResolverInterface
{
    private const DEEPEST = 16;
    /** Roles are asked at 20, and a change begins after it is read. */
    private const AFTER_ROLES = 10;

    public function __construct(private Definitions $definitions)
    {
    }

    /** @return iterable<UnreadBody> */
    public function resolve(Request $request, ArgumentMetadata $argument): iterable
    {
        $class = $argument->getType();

        return $argument->getAttributes(Body::class) === [] || $class === null || !class_exists($class)
            ? []
            : [new UnreadBody($class)];
    }

    /** @throws Problem naming the field and what it must be */
    #[AsEventListener(priority: self::AFTER_ROLES)]
    public function read(ControllerArgumentsEvent $event): void
    {
        $arguments = $event->getArguments();
        foreach ($arguments as $i => $argument) {
            if ($argument instanceof UnreadBody) {
                $arguments[$i] = $this->definitions->read($argument->class, self::fields($event->getRequest()));
            }
        }
        $event->setArguments($arguments);
    }

    /**
     * @return array<array-key, mixed>
     *
     * @throws Problem
     */
    private static function fields(Request $request): array
    {
        $body = $request->getContent();
        try {
            $fields = json_decode($body === '' ? '{}' : $body, true, self::DEEPEST, JSON_THROW_ON_ERROR);
        } catch (\JsonException) {
            throw new Problem(400, 'The request is not valid JSON');
        }

        return is_array($fields) ? $fields : throw new Problem(400, 'The request must be a JSON object');
    }
}

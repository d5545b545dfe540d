<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

/** A message was not taken by the other side; it says why, in its own words where it has some. */
final class NotHandedOver extends \RuntimeException
{
    /**
     * @param bool $isAway    whether the other side is there for no message at all, or seems so; else it refused this one
     * @param bool $isUnheard whether it may have taken it, and its answer was lost
     */
    private function __construct(string $message, public readonly bool $isAway, public readonly bool $isUnheard, ?\Throwable $previous)
    {
        parent::__construct($message, 0, $previous);
    }

    public static function away(string $why, ?\Throwable $previous = null): self
    {
        return new self($why, true, false, $previous);
    }

    public static function unheard(string $why, ?\Throwable $previous = null): self
    {
        return new self($why, true, true, $previous);
    }

    public static function refused(string $why, ?\Throwable $previous = null): self
    {
        return new self($why, false, false, $previous);
    }
}

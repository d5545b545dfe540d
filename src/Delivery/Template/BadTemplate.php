<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Template;

/** A template that cannot be read, or not be filled in; the message says where and why. */
final class BadTemplate extends \Exception
{
    public static function at(int $line, string $why): self
    {
        return new self(($line > 0 ? "line {$line}: " : '') . rtrim($why, '. '));
    }
}

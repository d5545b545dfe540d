<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** A database that follows the one that was asked. */
final readonly class FoundPartner
{
    /** @param int|null $port null where the source does not know it */
    public function __construct(public string $name, public string $host, public ?int $port)
    {
    }
}

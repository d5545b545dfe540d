<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\App\Delivery\Definition\CopyDefinition;

/** A row of who else is told, and whom it would reach now. */
final readonly class ShownCopy
{
    /**
     * @param string       $hours  in words; empty: always
     * @param list<string> $who    as it is set up
     * @param list<string> $people whom it would reach now
     */
    public function __construct(public CopyDefinition $definition, public string $hours, public array $who, public array $people)
    {
    }
}

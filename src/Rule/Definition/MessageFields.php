<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

/** A rule of which somebody wants to see the message. */
final readonly class MessageFields
{
    public function __construct(public RuleDefinition $definition)
    {
    }
}

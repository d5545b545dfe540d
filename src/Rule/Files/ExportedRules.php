<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

/** Files with the rules that are in service. */
final readonly class ExportedRules
{
    /**
     * @param array<string, string> $texts   name of the file → text, of those that change
     * @param array<string, string> $leftOut name of the rule → why it cannot be written
     */
    public function __construct(public array $texts, public array $leftOut)
    {
    }
}

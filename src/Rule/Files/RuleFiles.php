<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\App\Files\FileFault;

/** What some files say of rules. */
final readonly class RuleFiles
{
    /**
     * @param array<string, RuleOfFile> $rules  by their key, those that could be read
     * @param list<FileFault>           $faults
     */
    public function __construct(public array $rules, public array $faults)
    {
    }
}

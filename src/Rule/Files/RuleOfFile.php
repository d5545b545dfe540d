<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\App\Rule\Definition\RuleDefinition;

/** A rule as a file says it. */
final readonly class RuleOfFile
{
    /**
     * @param string      $key  that it is known by
     * @param string|null $was  the key that it had before
     * @param string      $file in which it stands
     */
    public function __construct(
        public string $key,
        public ?string $was,
        public RuleDefinition $definition,
        public bool $enabled,
        public string $file,
        public int $line,
    ) {
    }
}

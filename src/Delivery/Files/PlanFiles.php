<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

use Olivine\App\Delivery\Definition\CopyDefinition;
use Olivine\App\Delivery\Definition\LadderDefinition;
use Olivine\App\Delivery\Definition\PathDefinition;
use Olivine\App\Delivery\Definition\TeamDefinition;
use Olivine\App\Files\FileFault;

/** What files say of who hears. */
final readonly class PlanFiles
{
    /**
     * @param list<PathDefinition>   $paths   in their order
     * @param list<LadderDefinition> $ladders
     * @param list<CopyDefinition>   $copies
     * @param list<TeamDefinition>   $teams
     * @param array<string, string>  $fileOf  `path boarding` → the file that it stands in
     * @param list<FileFault>        $faults
     */
    public function __construct(
        public array $paths,
        public array $ladders,
        public array $copies,
        public array $teams,
        public array $fileOf,
        public array $faults,
    ) {
    }
}

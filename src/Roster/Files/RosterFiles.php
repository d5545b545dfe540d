<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Files;

use Olivine\App\Files\FileFault;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\Definition\RosterDefinition;
use Olivine\Core\Roster\RosterHistory;
use Olivine\Core\Roster\Rosters;

/** The rosters of files. */
final readonly class RosterFiles
{
    /**
     * @param list<RosterDefinition> $rosters in the order of the files
     * @param list<FileFault>        $faults
     * @param array<string, string>  $fileOf  roster → file
     */
    public function __construct(public array $rosters, public array $faults, public array $fileOf = [])
    {
    }

    /** @return list<string> addresses of all that are named, each once */
    public function people(): array
    {
        return array_values(array_unique(array_merge(...array_map(static fn(RosterDefinition $one): array => $one->people(), $this->rosters))));
    }

    /**
     * @param \Closure(string): int $numberOf of an address
     *
     * @throws Problem naming the field
     */
    public function core(\Closure $numberOf): Rosters
    {
        $byName = [];
        foreach ($this->rosters as $one) {
            $byName[$one->name] = RosterHistory::always($one->core($numberOf));
        }

        return new Rosters($byName);
    }
}

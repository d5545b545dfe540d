<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Files;

/** What files would make of the rosters. */
final readonly class PlannedRosters
{
    /**
     * @param array<string, list<string>> $changes   of each roster that is otherwise, what is; of one that is new nothing
     * @param list<string>                $new       those that are not there yet
     * @param list<string>                $rotations those of which more than covers and absences is otherwise: a revision more
     * @param list<string>                $hand      those that were changed by hand since the last apply
     */
    public function __construct(public RosterFiles $files, public array $changes, public array $new, public array $rotations, public array $hand)
    {
    }

    public function isNothing(): bool
    {
        return $this->changes === [];
    }

    /** As people at a terminal read it; "" where there are no rosters in the files. */
    public function words(): string
    {
        if ($this->files->rosters === []) {
            return '';
        }
        $lines = [];
        foreach ($this->changes as $name => $changes) {
            $hand = in_array($name, $this->hand, true) ? '  changed by hand since the last apply' : '';
            $lines[] = sprintf('%-8s roster %s', in_array($name, $this->new, true) ? 'added' : 'changed', $name) . $hand;
            foreach ($changes as $change) {
                $lines[] = "           {$change}";
            }
        }
        $count = count($this->changes);
        $lines[] = match ($count) {
            0 => 'Nothing to do: the rosters are as the files say.',
            1 => 'One roster to change.',
            default => "{$count} rosters to change.",
        };

        return implode("\n", $lines) . "\n";
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Roster\Rotation;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** What people set up of who hears of what. */
final readonly class Configuration
{
    /**
     * @param non-empty-list<Path>   $paths     in order; the last one answers for everything else
     * @param Rotation|null          $rotation  null while nobody takes shifts
     * @param bool                   $looksBack whether what is found now lies in the past, so that nobody is told
     * @param non-empty-list<string> $ways      to reach people: where one does not take a message, the next one is tried
     */
    public function __construct(
        public array $paths,
        public ?Rotation $rotation,
        public People $people = new People(),
        public bool $looksBack = false,
        public array $ways = ['e-mail'],
    ) {
    }

    /** @param LabelSet $about an alert: its labels, and what else it can be told by */
    public function answering(LabelSet $about, Instant $at): Path
    {
        return array_find($this->paths, static fn(Path $path): bool => $path->answersFor($about, $at)) ?? $this->everythingElse();
    }

    /** An incident keeps its path; where that is gone, the last one goes on with it. */
    public function pathNamed(string $name): Path
    {
        return array_find($this->paths, static fn(Path $path): bool => $path->name === $name) ?? $this->everythingElse();
    }

    /**
     * @param non-empty-list<Who> $who
     *
     * @return list<int> whom a rung reaches at an instant, each once
     */
    public function reached(array $who, Instant $at): array
    {
        $reached = array_merge(...array_map(fn(Who $one): array => $this->peopleOf($one, $at), $who));

        return array_values(array_unique($reached));
    }

    /** @return string|null where a way fails, the one after it, or null where it is the last; where it was taken away, the first one again */
    public function wayAfter(string $way): ?string
    {
        $place = array_search($way, $this->ways, true);

        return $place === false ? $this->ways[0] : $this->ways[$place + 1] ?? null;
    }

    private function everythingElse(): Path
    {
        return $this->paths[count($this->paths) - 1];
    }

    /** @return list<int> */
    private function peopleOf(Who $who, Instant $at): array
    {
        $shift = $this->rotation?->at($at);
        $person = match ($who->listener) {
            Listener::OnCall => $shift?->person,
            Listener::NextOnRoster => $shift?->nextPerson,
            Listener::Person => $this->people->at($who->name),
            Listener::Role => null,
        };

        return match (true) {
            $who->listener === Listener::Role => $this->people->ofRole($who->name),
            $person === null => [],
            default => [$person],
        };
    }
}

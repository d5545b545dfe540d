<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Roster\Rosters;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** What people set up of who hears of what. */
final readonly class Configuration
{
    /**
     * @param non-empty-list<Path>   $paths     in order; the last one answers for everything else
     * @param bool                   $looksBack whether what is found now lies in the past, so that nobody is told
     * @param non-empty-list<string> $ways      to reach people: where one does not take a message, the next one is tried
     * @param list<string>           $others    ways that are there and stand in for none
     * @param list<Copy>             $copies    who else is told
     * @param int                    $revision  of what people set up; 0: as it was installed
     * @param Mutes                  $mutes     what is hushed when
     * @param list<int>|null         $agreed    who agreed to be told in a rehearsal, and nobody else is; null: it is none
     */
    public function __construct(
        public array $paths,
        public Rosters $rosters = new Rosters(),
        public People $people = new People(),
        public bool $looksBack = false,
        public array $ways = ['e-mail'],
        public array $others = [],
        public array $copies = [],
        public int $revision = 0,
        public Mutes $mutes = new Mutes(),
        public ?array $agreed = null,
    ) {
    }

    /**
     * The same for a rehearsal: the very paths, rosters and ways, but only who agreed is told, nobody is copied, nothing waits for
     * long, and no mute hides it.
     *
     * @param list<int> $agreed
     */
    public function rehearsing(array $agreed): self
    {
        return new self(
            array_map(static fn(Path $path): Path => $path->rehearsed(), $this->paths),
            $this->rosters,
            $this->people,
            ways: $this->ways,
            others: $this->others,
            revision: $this->revision,
            agreed: $agreed,
        );
    }

    /** The same where one path answers for everything, told to these, and nothing is muted. */
    public function only(Path $path, People $people): self
    {
        return new self([$path], $this->rosters, $people, $this->looksBack, $this->ways, $this->others, revision: $this->revision);
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
     * @param list<Who>    $who
     * @param list<string> $owners of the rules that raised
     *
     * @return list<int> whom these are at an instant, each once
     */
    public function reached(array $who, Instant $at, array $owners = []): array
    {
        $reached = array_merge(...array_map(fn(Who $one): array => $this->peopleOf($one, $at, $owners), $who));

        $agreed = $this->agreed;

        return array_values(array_unique($agreed === null ? $reached : array_intersect($reached, $agreed)));
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

    /**
     * @param list<string> $asked by a rung; empty: as the person wishes
     *
     * @return non-empty-list<string> the ways by which somebody is told, all at once
     */
    public function waysTo(int $person, array $asked, Severity $severity): array
    {
        $wanted = $asked === [] ? $this->people->wishesOf($person)->waysFor($severity) : $asked;
        $there = array_values(array_intersect($wanted, [...$this->known(), ...$this->people->waysOf($person)]));

        return $there === [] ? [$this->ways[0]] : $there;
    }

    /** The row of a path and the revision it is of, as the trail says them: `boarding answers (row 1 of revision 7)`. */
    public function answerWords(string $path): string
    {
        $row = (int) array_search($path, array_map(static fn(Path $one): string => $one->name, $this->paths), true) + 1;

        return $this->revision === 0 ? "{$path} answers" : "{$path} answers (row {$row} of revision {$this->revision})";
    }

    /** @return list<string> ways that are set up */
    private function known(): array
    {
        return [...$this->ways, ...$this->others];
    }

    /**
     * @param list<string> $owners
     *
     * @return list<int>
     */
    private function peopleOf(Who $who, Instant $at, array $owners): array
    {
        return match ($who->listener) {
            Listener::OnCall => self::one($this->rosters->onCall($who->name, $at)),
            Listener::NextOnRoster => self::one($this->rosters->next($who->name, $at)),
            Listener::Person => $this->people->at($who->name),
            Listener::Team => $this->people->ofTeam($who->name),
            Listener::Role => $this->people->ofRole($who->name),
            Listener::Owner => array_merge(...array_map($this->people->meant(...), $owners)),
        };
    }

    /** @return list<int> */
    private static function one(?int $person): array
    {
        return $person === null ? [] : [$person];
    }
}

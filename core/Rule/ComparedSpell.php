<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** One alert, by the rule as it was and as it would be. */
final readonly class ComparedSpell
{
    private function __construct(public SpellChange $change, public ?Spell $was, public ?Spell $is)
    {
    }

    /**
     * Those that overlap are the same alert; each is compared with one other at most.
     *
     * @param list<Spell> $before
     * @param list<Spell> $after
     *
     * @return list<self> newest first
     */
    public static function all(array $before, array $after): array
    {
        $compared = [];
        $left = [];
        foreach ($before as $spell) {
            $left[$spell->labels->key()][] = $spell;
        }
        foreach ($after as $spell) {
            $key = $spell->labels->key();
            $place = array_find_key($left[$key] ?? [], static fn(Spell $was): bool => $was->overlaps($spell));
            $was = $place === null ? null : $left[$key][$place];
            if ($place !== null) {
                unset($left[$key][$place]);
            }
            $compared[] = new self(self::changeOf($was, $spell), $was, $spell);
        }
        foreach ($left as $gone) {
            foreach ($gone as $spell) {
                $compared[] = new self(SpellChange::Gone, $spell, null);
            }
        }
        usort($compared, static fn(self $a, self $b): int => $b->at() <=> $a->at());

        return $compared;
    }

    /** @return int when it is raised, by the one rule or the other */
    private function at(): int
    {
        return ($this->is ?? $this->was)->raised->ms ?? 0;
    }

    private static function changeOf(?Spell $was, Spell $is): SpellChange
    {
        return match (true) {
            $was === null => SpellChange::New,
            $is->raised->isBefore($was->raised) => SpellChange::Sooner,
            $is->raised->isAfter($was->raised) => SpellChange::Later,
            default => SpellChange::Kept,
        };
    }
}

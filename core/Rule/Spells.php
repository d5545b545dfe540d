<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** Gathers transitions into spells, one a label set at a time. */
final class Spells
{
    /** @var array<string, Spell> those still raised, by labels */
    private array $open = [];
    /** @var list<Spell> */
    private array $closed = [];

    /**
     * @param list<AlertTransition> $happened those of one label set in the order of time
     *
     * @return list<Spell> newest first
     */
    public static function of(array $happened): array
    {
        $spells = new self();
        foreach ($happened as $one) {
            $spells->take($one);
        }
        $all = [...$spells->closed, ...array_values($spells->open)];
        usort($all, static fn(Spell $a, Spell $b): int => $b->raised->ms <=> $a->raised->ms);

        return $all;
    }

    private function take(AlertTransition $happened): void
    {
        $key = $happened->labels->key();
        $transition = $happened->transition;
        $open = $this->open[$key] ?? null;
        $severity = $transition->severity;
        if ($transition->to === Phase::Raised && $severity !== null) {
            $this->open[$key] = new Spell(
                $happened->labels,
                $open === null ? $transition->onset : $open->onset,
                $open->raised ?? $transition->at,
                null,
                $open === null || $severity->isWorseThan($open->severity) ? $severity : $open->severity,
            );
        } elseif ($open !== null && ($transition->to === Phase::Calm || $transition->to->isOver())) {
            $this->closed[] = new Spell($open->labels, $open->onset, $open->raised, $transition->at, $open->severity);
            unset($this->open[$key]);
        }
    }
}

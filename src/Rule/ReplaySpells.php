<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Rule\Answer\Spell;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\Phase;

/** Gathers the transitions of a replay into spells: from raise to clear, one a label set at a time. */
final class ReplaySpells
{
    /** @var array<string, Spell> those still raised, by labels */
    private array $open = [];
    /** @var list<Spell> */
    private array $closed = [];

    public function take(AlertTransition $happened): void
    {
        $key = $happened->labels->key();
        $transition = $happened->transition;
        $open = $this->open[$key] ?? null;
        if ($transition->to === Phase::Raised && $transition->severity !== null) {
            $this->open[$key] = new Spell(
                clearedAt: null,
                labels: $happened->labels,
                onsetAt: $open === null ? $transition->onset : $open->onsetAt,
                raisedAt: $open->raisedAt ?? $transition->at,
                severity: $transition->severity,
            );
        } elseif ($transition->to === Phase::Calm && $open !== null) {
            $this->closed[] = new Spell($transition->at, $open->labels, $open->onsetAt, $open->raisedAt, $open->severity);
            unset($this->open[$key]);
        }
    }

    /** @return list<Spell> newest first */
    public function all(): array
    {
        $all = [...$this->closed, ...array_values($this->open)];
        usort($all, static fn(Spell $a, Spell $b): int => $b->raisedAt <=> $a->raisedAt);

        return $all;
    }
}

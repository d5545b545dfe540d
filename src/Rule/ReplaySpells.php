<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\Phase;

/** Gathers the transitions of a replay into spells: from raise to clear, one a label set at a time. */
final class ReplaySpells
{
    /** @var array<string, array<string, mixed>> those still raised, by labels */
    private array $open = [];
    /** @var list<array<string, mixed>> */
    private array $closed = [];

    public function take(AlertTransition $happened): void
    {
        $key = $happened->labels->key();
        $transition = $happened->transition;
        if ($transition->to === Phase::Raised) {
            $spell = $this->open[$key] ?? [
                'labels' => (object) $happened->labels->labels,
                'onsetAt' => $transition->onsetMs,
                'raisedAt' => $transition->atMs,
                'severity' => null,
            ];
            $spell['severity'] = $transition->severity?->value;
            $this->open[$key] = $spell;
        } elseif ($transition->to === Phase::Calm && isset($this->open[$key])) {
            $this->closed[] = $this->open[$key] + ['clearedAt' => $transition->atMs];
            unset($this->open[$key]);
        }
    }

    /** @return list<array<string, mixed>> newest first */
    public function all(): array
    {
        $all = [
            ...$this->closed,
            ...array_map(static fn(array $spell): array => $spell + ['clearedAt' => null], array_values($this->open)),
        ];
        usort($all, static fn(array $a, array $b): int => $b['raisedAt'] <=> $a['raisedAt']);

        return $all;
    }
}

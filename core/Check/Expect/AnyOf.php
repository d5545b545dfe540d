<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

/** One of them must be so. */
final readonly class AnyOf implements Expected
{
    /** @param non-empty-list<Expected> $parts */
    public function __construct(public array $parts)
    {
    }

    public function look(Answer $answer): Finding
    {
        $findings = array_map(static fn(Expected $part): Finding => $part->look($answer), $this->parts);
        $holding = array_filter($findings, static fn(Finding $one): bool => $one->holds);

        return new Finding($holding !== [], implode('; ', array_column($holding ?: $findings, 'fact')));
    }

    public function asksForStatus(): bool
    {
        return array_any($this->parts, static fn(Expected $part): bool => $part->asksForStatus());
    }
}

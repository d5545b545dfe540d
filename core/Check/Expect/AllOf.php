<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

/** Each of them must be so. */
final readonly class AllOf implements Expected
{
    /** @param non-empty-list<Expected> $parts */
    public function __construct(public array $parts)
    {
    }

    public function look(Answer $answer): Finding
    {
        $findings = array_map(static fn(Expected $part): Finding => $part->look($answer), $this->parts);
        $missing = array_filter($findings, static fn(Finding $one): bool => !$one->holds);

        return new Finding($missing === [], implode('; ', array_column($missing ?: $findings, 'fact')));
    }

    public function asksForStatus(): bool
    {
        return array_any($this->parts, static fn(Expected $part): bool => $part->asksForStatus());
    }
}

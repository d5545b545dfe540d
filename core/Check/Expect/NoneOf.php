<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

/** It must not be so. */
final readonly class NoneOf implements Expected
{
    public function __construct(public Expected $part)
    {
    }

    public function look(Answer $answer): Finding
    {
        $finding = $this->part->look($answer);

        return new Finding(!$finding->holds, $finding->fact);
    }

    public function asksForStatus(): bool
    {
        return $this->part->asksForStatus();
    }
}

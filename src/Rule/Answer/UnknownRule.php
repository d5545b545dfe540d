<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

/** A rule without a runbook or an owner. */
final readonly class UnknownRule
{
    /** @param bool $owner Whether it has one */
    public function __construct(
        public int $id,
        public string $name,
        public bool $owner,
        public bool $runbook,
    ) {
    }
}

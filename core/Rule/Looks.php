<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Time\Instant;

/** What a rule sees of one alert over some instants, counted from 0 on. */
interface Looks
{
    /** Whether anything is there. */
    public function sees(int $i): bool;

    public function judge(int $i, Memory $memory, Instant $at): Verdict;

    /** @return int the first place from there on at which an alert that is calm has to be judged */
    public function calmUntil(int $i): int;

    /** @return int the first place from there on at which one that is raised so has to be judged */
    public function pastUntil(int $i, Severity $severity): int;
}

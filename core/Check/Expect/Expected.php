<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

/** One thing, or several together, that an answer must be like. */
interface Expected
{
    public function look(Answer $answer): Finding;

    /** @return bool whether anything in it asks for the status */
    public function asksForStatus(): bool;
}

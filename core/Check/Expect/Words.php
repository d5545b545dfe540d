<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

/** Words that are somewhere in the answer, letter for letter. */
final readonly class Words implements Expected
{
    public function __construct(public string $words)
    {
    }

    public function look(Answer $answer): Finding
    {
        $holds = str_contains($answer->text(), $this->words);

        return new Finding($holds, sprintf('the words “%s” are %sin the answer', $this->words, $holds ? '' : 'not '));
    }

    public function asksForStatus(): bool
    {
        return false;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Formula\Answer;

/** What can be told of a formula without its readings. */
final readonly class FormulaReading
{
    /**
     * @param string           $formula As it is written everywhere
     * @param list<string>     $notes   What is no fault, and hardly meant: a label or a value that no series has
     * @param SaidFormula|null $said    Null: it is too free to be said
     * @param bool             $truth   Whether it is 1 or 0
     */
    public function __construct(public string $formula, public array $notes, public ?SaidFormula $said, public bool $truth)
    {
    }
}

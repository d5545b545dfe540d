<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\Place;

/** What is wrong with a formula, where, and the nearest thing that would be right. */
final class FormulaError extends \RuntimeException
{
    public function __construct(public readonly Place $place, string $message, public readonly ?string $suggestion = null)
    {
        parent::__construct($message . ($suggestion === null ? '' : "; did you mean {$suggestion}?"));
    }
}

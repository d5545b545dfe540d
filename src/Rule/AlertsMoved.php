<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

/** The alerts of a rule have other labels now than when they were loaded: they are loaded anew, and looked at again. */
final class AlertsMoved extends \RuntimeException
{
    public function __construct()
    {
        parent::__construct('The labels of these alerts were changed meanwhile');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Formula;

/** A command was called with options that do not go together. */
final class WrongCall extends \RuntimeException
{
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** A formula was not run because it would read too much; the message says how much, and the remedy. */
class TooMuchToRead extends \RuntimeException
{
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** What was begun took longer than it may; where somebody waits and is told how far it is, it may take longer. */
final class TookTooLong extends TooMuchToRead
{
}

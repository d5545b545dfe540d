<?php

declare(strict_types=1);

namespace Olivine\Core\Job;

/** A schedule that cannot be read, or that never comes. */
final class BadSchedule extends \RuntimeException
{
}

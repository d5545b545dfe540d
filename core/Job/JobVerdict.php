<?php

declare(strict_types=1);

namespace Olivine\Core\Job;

/** How a job stands: the gravest of what is to be said of it, which stands first here. */
enum JobVerdict: string
{
    case NeverReported = 'never reported';
    case Missing = 'missing';
    case Failing = 'failing';
    case TooLong = 'too long';
    case Overlapping = 'overlapping';
    /** Due, and still in time. */
    case Late = 'late';
    /** Olivine itself stood still when it was due, so nobody knows. */
    case Unseen = 'unseen';
    case Running = 'running';
    case Well = 'well';
    /** It was not due yet, and has not run yet. */
    case Waiting = 'waiting';

    public function needsSomebody(): bool
    {
        return match ($this) {
            self::NeverReported, self::Missing, self::Failing, self::TooLong, self::Overlapping => true,
            self::Late, self::Unseen, self::Running, self::Well, self::Waiting => false,
        };
    }
}

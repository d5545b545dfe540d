<?php

declare(strict_types=1);

namespace Olivine\Core\Job;

use Olivine\Core\Check\CheckReading;
use Olivine\Core\Time\Instant;

/** How a job stands at an instant: in a word, in a sentence, and in readings. */
final readonly class JobStanding
{
    /**
     * @param string             $words    as a sentence without a full stop; "" where there is nothing to say
     * @param Instant            $due      when it is to run next; the first time that it did not, where it is missing
     * @param list<CheckReading> $readings
     */
    public function __construct(public JobVerdict $verdict, public string $words, public Instant $due, public array $readings)
    {
    }
}

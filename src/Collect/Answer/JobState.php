<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\Core\Job\JobVerdict;

/** How a job stands now. */
final readonly class JobState
{
    /**
     * @param string $words as a sentence without a full stop; "" where there is nothing to say
     * @param int    $due   when it is to run next; the first time that it did not, where it is missing
     */
    public function __construct(public JobVerdict $verdict, public string $words, public int $due, public bool $needsSomebody)
    {
    }
}

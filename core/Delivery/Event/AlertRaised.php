<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Event;

use Olivine\Core\Delivery\Event;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** An alert is up that no incident has yet. */
final readonly class AlertRaised implements Event
{
    /**
     * @param string       $key    of rule and labels
     * @param LabelSet     $about  its labels, and what else it can be told by: by these a path answers for it
     * @param string       $title  a sentence: what an incident is called after it
     * @param string       $words  how it was raised
     * @param string       $beside what the trail says too where it comes to others
     * @param Instant|null $onset  when it began, where that was before it was raised
     * @param string       $began  what began then
     */
    public function __construct(
        public string $key,
        public LabelSet $about,
        public Severity $severity,
        public string $title,
        public string $words,
        public string $beside = '',
        public ?Instant $onset = null,
        public string $began = '',
    ) {
    }
}

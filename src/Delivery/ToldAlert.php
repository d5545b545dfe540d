<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

/** An alert as a message tells it. */
final readonly class ToldAlert
{
    /**
     * @param string      $value  `1,284 messages`
     * @param string      $beside `limit above 400 messages`
     * @param string      $since  `03:12`
     * @param string|null $end    how it ended, where it did
     * @param string      $words  of its severity, by whoever wrote the rule
     * @param string      $spell  `mean 812 messages, highest 1,284 messages` since it began; "" where there is nothing to say of it
     */
    public function __construct(
        public string $name,
        public string $severity,
        public string $value,
        public string $beside,
        public string $since,
        public ?string $end,
        public string $runbook,
        public string $words,
        public string $spell = '',
    ) {
    }
}

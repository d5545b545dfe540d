<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

final readonly class TargetStatus
{
    /**
     * @param string $verdict of a check: the worst of its places; "" of what is scraped
     * @param string $notice  what is not as it should be in a text that was taken all the same
     */
    public function __construct(
        public int $at,
        public int $bytes,
        public string $form,
        public string $message,
        public bool $ok,
        public ?int $okAt,
        public bool $overdue,
        public int $readings,
        public int $refused,
        public string $notice,
        public float $seconds,
        public string $verdict,
    ) {
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** What a check would come to, asked once and not kept. */
final readonly class CheckTrial
{
    /**
     * @param string            $words        why it is not well; "" where it is
     * @param list<CheckStep>   $steps
     * @param string            $text         the beginning of the last answer
     * @param list<FoundNumber> $readings
     * @param int               $readingsADay from all its places
     * @param int               $bytesADay    that these take in the store
     * @param int               $requestsADay that its servers are asked
     * @param int               $trafficADay  bytes of their answers
     */
    public function __construct(
        public string $verdict,
        public string $words,
        public float $seconds,
        public array $steps,
        public string $text,
        public array $readings,
        public int $readingsADay,
        public int $bytesADay,
        public int $requestsADay,
        public int $trafficADay,
    ) {
    }
}

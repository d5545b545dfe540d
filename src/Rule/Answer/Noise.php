<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\Core\Time\Instant;

/** Which rules earn that they speak, and which need a look. */
final readonly class Noise
{
    /**
     * @param list<SpokenRule>  $spoke     Those that raised something, most incidents first
     * @param list<SilentRule>  $silent    Those that raised nothing, and had the time to
     * @param list<RaisedRule>  $always    Raised without an end for days
     * @param list<FlappingOne> $comeAndGo
     * @param list<UnknownRule> $unknown   Nobody knows what to do, or whose it is
     * @param int               $people    That said what alerts were worth
     */
    public function __construct(
        public array $always,
        public array $comeAndGo,
        public int $marks,
        public int $people,
        public array $silent,
        public Instant $since,
        public array $spoke,
        public array $unknown,
    ) {
    }
}

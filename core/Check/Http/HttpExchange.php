<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Http;

use Olivine\Core\Check\Phases;

/** What became of one step: an answer, or why there is none. */
final readonly class HttpExchange
{
    /**
     * @param string|null  $fault  why there is no answer, as a sentence without a full stop
     * @param bool         $isOurs whether that is our own fault: the address may not be asked, a secret is lost
     * @param list<string> $via    the addresses it was sent on from
     */
    public function __construct(
        public HttpStep $step,
        public Phases $phases,
        public ?HttpAnswer $answer,
        public ?string $fault = null,
        public bool $isOurs = false,
        public array $via = [],
        public string $ip = '',
        public ?HttpSent $sent = null,
    ) {
    }
}

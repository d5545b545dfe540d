<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\Core\Check\Phases;

/** One step of an exchange, as it may be shown: what was asked, where it went, how long each phase took, what came back. */
final readonly class CheckStep
{
    /**
     * @param string       $sent   what was asked, line by line; where something was filled in stands its name
     * @param string       $ip     where the name of the host led; "" where it was not come to
     * @param list<string> $via    the addresses it was sent on from
     * @param int|null     $status null where there was no answer
     * @param string       $head   of the answer
     * @param int          $bytes  of the answer, unpacked
     * @param string       $fault  why there was no answer; "" where there was one
     */
    public function __construct(
        public string $name,
        public string $sent,
        public string $ip,
        public array $via,
        public Phases $phases,
        public ?int $status,
        public string $head,
        public int $bytes,
        public string $fault,
    ) {
    }
}

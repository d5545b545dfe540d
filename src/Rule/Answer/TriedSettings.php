<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\Core\Rule\Tried;

/** Settings of a rule and what their alerts are worth. */
final readonly class TriedSettings
{
    /**
     * @param int        $holdSeconds how long it must last
     * @param int        $laterMs     By which the useful alerts come at most later than when they were marked
     * @param float|null $limit       Null: it has none that could be moved
     * @param int        $lost        Useful alerts that are not raised any more
     * @param int        $unmarked    Alerts of which nobody said anything
     */
    public function __construct(
        public int $alerts,
        public int $holdSeconds,
        public int $laterMs,
        public ?float $limit,
        public int $lost,
        public int $noise,
        public int $unmarked,
        public int $useful,
    ) {
    }

    public static function of(Tried $tried): self
    {
        $judged = $tried->judged;

        return new self(
            alerts: $tried->alerts,
            holdSeconds: $tried->hold->seconds(),
            laterMs: $judged->later->ms,
            limit: $tried->limit,
            lost: $judged->lost,
            noise: $judged->noise,
            unmarked: $judged->unmarked,
            useful: $judged->useful,
        );
    }
}

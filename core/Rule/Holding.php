<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Time\Duration;

/** How long something must last before it counts, and what becomes of an alert that nobody sees. The same for every condition. */
final readonly class Holding
{
    private const USUALLY_BLIND_AFTER_MINUTES = 10;
    private const USUALLY_LOST_AFTER_DAYS = 3;
    private const LONGEST_DAYS = 7;
    private const LOST_AFTER_MOST_DAYS = 30;

    public Duration $blindAfter;
    public Duration $lostAfter;

    /**
     * @param Duration      $hold          how long a condition must be true before it raises
     * @param Duration      $clearHold     how long it must be back before it clears
     * @param Duration|null $blindAfter    after so long without readings it is unseen: 10 min where none is given
     * @param Severity|null $blindSeverity null: going blind is recorded and shown, and tells nobody
     * @param Duration|null $lostAfter     after so long without readings it ends as lost from sight: 3 d where none is given
     *
     * @throws BadRule naming the field that cannot be so
     */
    public function __construct(
        public Duration $hold,
        public Duration $clearHold,
        ?Duration $blindAfter = null,
        public ?Severity $blindSeverity = null,
        ?Duration $lostAfter = null,
    ) {
        $this->blindAfter = $blindAfter ??= Duration::ofMinutes(self::USUALLY_BLIND_AFTER_MINUTES);
        $this->lostAfter = $lostAfter ??= Duration::ofDays(self::USUALLY_LOST_AFTER_DAYS);
        $longest = Duration::ofDays(self::LONGEST_DAYS);
        foreach (['holdSeconds' => $hold, 'clearHoldSeconds' => $clearHold] as $field => $duration) {
            if ($duration->ms < 0 || $duration->isLongerThan($longest)) {
                throw new BadRule($field, 'must lie between 0 s and 7 d');
            }
        }
        if (!$blindAfter->isAtLeast(Duration::ofMinutes(1)) || $blindAfter->isLongerThan($longest)) {
            throw new BadRule('blindAfterSeconds', 'must lie between 1 min and 7 d');
        }
        $isTooLong = $lostAfter->isLongerThan(Duration::ofDays(self::LOST_AFTER_MOST_DAYS));
        if (!$lostAfter->isLongerThan($blindAfter) || $isTooLong) {
            throw new BadRule(
                'lostAfterSeconds',
                'must be longer than the time after which it counts as unseen, and at most 30 d',
            );
        }
    }

    /**
     * The same with another hold.
     *
     * @throws BadRule naming the field that cannot be so
     */
    public function held(Duration $hold): self
    {
        return new self($hold, $this->clearHold, $this->blindAfter, $this->blindSeverity, $this->lostAfter);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Time\Duration;

/**
 * The condition of a threshold rule: "major above 400 for 5 min, critical from 1,200; clear when it stays
 * below 350 for 5 min; with no readings for 10 min, raise minor, and after 3 d let it be lost from sight".
 */
final readonly class Threshold
{
    private const USUALLY_LOST_AFTER_DAYS = 3;
    private const LONGEST_DAYS = 7;
    private const LOST_AFTER_MOST_DAYS = 30;

    public Duration $lostAfter;

    /**
     * @param float|null    $worseLimit    from here on the alert has the worse severity
     * @param Severity|null $blindSeverity null: going blind is recorded and shown, and tells nobody
     * @param Duration|null $lostAfter     after so long without readings an alert ends as lost from sight: 3 d where none is given
     *
     * @throws BadRule
     */
    public function __construct(
        public Severity $severity,
        public Direction $direction,
        public float $limit,
        public Duration $hold,
        public float $clearLimit,
        public Duration $clearHold,
        public Duration $blindAfter,
        public ?Severity $blindSeverity = null,
        public ?float $worseLimit = null,
        public ?Severity $worseSeverity = null,
        ?Duration $lostAfter = null,
    ) {
        $this->lostAfter = $lostAfter ??= Duration::ofDays(self::USUALLY_LOST_AFTER_DAYS);
        $longest = Duration::ofDays(self::LONGEST_DAYS);
        foreach (['limit' => $limit, 'clearLimit' => $clearLimit, 'worseLimit' => $worseLimit ?? 0.0] as $field => $value) {
            is_finite($value) || throw new BadRule($field, 'must be a finite number');
        }
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
        if ($clearLimit !== $limit && $direction->isPast($clearLimit, $limit)) {
            throw new BadRule(
                'clearLimit',
                sprintf('must not lie %s the limit, or the alert would clear and raise at once', $direction->value),
            );
        }
        if (($worseLimit === null) !== ($worseSeverity === null)) {
            throw new BadRule('worseLimit', 'goes together with its severity: give both or neither');
        }
        if ($worseLimit !== null && $worseSeverity !== null) {
            $direction->isPast($worseLimit, $limit)
                || throw new BadRule('worseLimit', sprintf('must lie further %s than the limit', $direction->value));
            $worseSeverity->isWorseThan($severity) || throw new BadRule('worseSeverity', "must be worse than {$severity->value}");
        }
    }

    public function severityAt(float $value): Severity
    {
        if (
            $this->worseLimit !== null
            && $this->worseSeverity !== null
            && ($value === $this->worseLimit || $this->direction->isPast($value, $this->worseLimit))
        ) {
            return $this->worseSeverity;
        }

        return $this->severity;
    }
}

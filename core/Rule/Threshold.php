<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/**
 * The condition of a threshold rule: "major above 400 for 5 min, critical from 1,200; clear when it stays
 * below 350 for 5 min; with no readings for 10 min, raise minor, and after 3 d let it be lost from sight".
 */
final readonly class Threshold
{
    public const USUALLY_LOST_AFTER_MS = 3 * self::DAY_MS;
    private const DAY_MS = 86_400_000;
    private const LONGEST_MS = 7 * self::DAY_MS;
    private const LOST_AFTER_MOST_MS = 30 * self::DAY_MS;

    /**
     * @param float|null    $worseLimit    from here on the alert has the worse severity
     * @param Severity|null $blindSeverity null: going blind is recorded and shown, and tells nobody
     * @param int           $lostAfterMs   after so long without readings an alert ends as lost from sight
     *
     * @throws BadRule
     */
    public function __construct(
        public Severity $severity,
        public Direction $direction,
        public float $limit,
        public int $holdMs,
        public float $clearLimit,
        public int $clearHoldMs,
        public int $blindAfterMs,
        public ?Severity $blindSeverity = null,
        public ?float $worseLimit = null,
        public ?Severity $worseSeverity = null,
        public int $lostAfterMs = self::USUALLY_LOST_AFTER_MS,
    ) {
        foreach (['limit' => $limit, 'clearLimit' => $clearLimit, 'worseLimit' => $worseLimit ?? 0.0] as $field => $value) {
            is_finite($value) || throw new BadRule($field, 'must be a finite number');
        }
        foreach (['holdSeconds' => $holdMs, 'clearHoldSeconds' => $clearHoldMs] as $field => $ms) {
            ($ms >= 0 && $ms <= self::LONGEST_MS) || throw new BadRule($field, 'must lie between 0 s and 7 d');
        }
        ($blindAfterMs >= 60_000 && $blindAfterMs <= self::LONGEST_MS)
            || throw new BadRule('blindAfterSeconds', 'must lie between 1 min and 7 d');
        if ($lostAfterMs <= $blindAfterMs || $lostAfterMs > self::LOST_AFTER_MOST_MS) {
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

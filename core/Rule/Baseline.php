<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\BaselineMethod;
use Olivine\Core\Formula\Node\Grouping;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\Twins;
use Olivine\Core\Formula\Node\Usually;
use Olivine\Core\Formula\UsualPart;
use Olivine\Core\Time\Duration;

/** What an anomaly is a distance from: a series' own past, or its twins. */
final readonly class Baseline
{
    private const LONGEST_DAYS = 35;

    /**
     * @param BaselineMethod|null $method of its own past; null: the others of its group
     * @param Duration            $span   of the past
     * @param Duration            $warmUp so much of it must be known
     * @param list<string>        $per    labels that twins share
     */
    private function __construct(
        public ?BaselineMethod $method,
        public Duration $span,
        public Duration $warmUp,
        public array $per,
    ) {
    }

    /** @throws BadRule naming the field that cannot be so */
    public static function ofPast(BaselineMethod $method, Duration $span, Duration $warmUp): self
    {
        if (!$span->isAtLeast(Duration::ofHours(1)) || $span->isLongerThan(Duration::ofDays(self::LONGEST_DAYS))) {
            throw new BadRule('spanSeconds', 'must lie between 1 h and 35 d');
        }
        if ($method === BaselineMethod::SameHour && !$span->isAtLeast(Duration::ofDays(3))) {
            throw new BadRule('spanSeconds', 'must be at least 3 d, or there are too few days to compare with');
        }
        if ($method === BaselineMethod::SameWeekday && !$span->isAtLeast(Duration::ofDays(21))) {
            throw new BadRule('spanSeconds', 'must be at least 21 d, or there are too few weeks to compare with');
        }
        if ($warmUp->ms < 0 || $warmUp->isLongerThan($span)) {
            throw new BadRule('warmUpSeconds', 'must lie between nothing and the span of the past');
        }

        return new self($method, $span, $warmUp, []);
    }

    /** @param list<string> $per labels that twins share; none: all of them are twins */
    public static function ofTwins(array $per): self
    {
        return new self(null, Duration::none(), Duration::none(), $per);
    }

    public function centre(Node $watched): Node
    {
        return $this->part($watched, UsualPart::Centre);
    }

    public function spread(Node $watched): Node
    {
        return $this->part($watched, UsualPart::Spread);
    }

    /** `its usual (same hours, 14 d)`, `its twins per service`. */
    public function words(): string
    {
        return match ($this->method) {
            null => 'its twins' . ($this->per === [] ? '' : ' per ' . implode(', ', $this->per)),
            BaselineMethod::Median => "its usual (median of {$this->span->words()})",
            BaselineMethod::Mean => "its usual (average of {$this->span->words()})",
            BaselineMethod::Ewma => "its usual (recent average of {$this->span->words()})",
            BaselineMethod::SameHour => "its usual (same hours of {$this->span->words()})",
            BaselineMethod::SameWeekday => "its usual (same weekdays of {$this->span->words()})",
        };
    }

    private function part(Node $watched, UsualPart $part): Node
    {
        return $this->method === null
            ? new Twins($watched, $this->per === [] ? null : new Grouping(true, $this->per), $part)
            : new Usually($watched, $this->method, $this->span->ms, $this->warmUp->ms, $part);
    }
}

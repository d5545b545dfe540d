<?php

declare(strict_types=1);

namespace Olivine\Core\Rule\Condition;

use Olivine\Core\Formula\ForeseenPart;
use Olivine\Core\Formula\Node\Foreseen;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Limited;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Memory;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Track;
use Olivine\Core\Rule\Verdict;
use Olivine\Core\Series\Quantity;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * A limit that will be reached within a time if all goes on as it did. It is silent where that cannot be foreseen: where such a
 * forecast was usually off by more than the limit is away.
 *
 * By example, "will pass 95 % within 24 h": at 70 %, foreseen at 97 % give or take 2, so it is past; give or take 30 it is not,
 * as the limit is only 25 away. What has reached its limit already is past in any case.
 */
final readonly class Forecast implements Limited
{
    private const SHORTEST_SPAN_HOURS = 48;
    private const SPANS = 4;
    private const LONGEST_DAYS = 14;

    /** @throws BadRule naming the field that cannot be so */
    public function __construct(public Limits $limits, public Duration $within)
    {
        if ($limits->side->isRange()) {
            throw new BadRule('side', 'must be above or below: what is foreseen goes one way');
        }
        if (!$within->isAtLeast(Duration::ofMinutes(5)) || $within->isLongerThan(Duration::ofDays(self::LONGEST_DAYS))) {
            throw new BadRule('withinSeconds', 'must lie between 5 min and 14 d');
        }
    }

    public function inputs(Node $watched): array
    {
        $far = $this->limits->side->isPast(1.0, 0.0) ? ForeseenPart::Highest : ForeseenPart::Lowest;

        return [$watched, $this->foreseen($watched, $far), $this->foreseen($watched, ForeseenPart::Error)];
    }

    public function judge(Memory $memory, Instant $at, array $values): Verdict
    {
        $value = $values[0];
        if ($value === null || is_nan($value)) {
            return Verdict::unknown('');
        }
        $reached = $this->limits->severityAt($value);
        $foreseen = $values[1] ?? null;
        $error = $values[2] ?? null;
        if ($foreseen === null || $error === null) {
            return $reached === null ? Verdict::back($value) : Verdict::past($value, $reached);
        }
        $numbers = ['foreseen' => $foreseen, 'error' => $error];
        $severity = $reached ?? $this->foreseeable($value, $foreseen, $error);

        return match (true) {
            $severity !== null => Verdict::past($value, $severity, $numbers),
            $this->limits->isBack($foreseen) => Verdict::back($value, $numbers),
            default => Verdict::between($value, $this->severity(), $numbers),
        };
    }

    public function calmUntil(Track $track, int $from): int
    {
        $now = $this->limits->firstPast($track, $from);
        $count = count($track->columns[0]);
        for ($i = $from; $i < $now; ++$i) {
            $foreseen = $track->columns[1][$i] ?? null;
            if ($foreseen !== null && $this->limits->severityAt($foreseen) !== null) {
                return $i;
            }
        }

        return min($now, $count);
    }

    public function pastUntil(Track $track, int $from, Severity $severity): int
    {
        return $from;
    }

    public function limits(): Limits
    {
        return $this->limits;
    }

    public function limitedBy(Limits $limits): self
    {
        return new self($limits, $this->within);
    }

    public function moved(float $limit): self
    {
        return $this->limitedBy($this->limits->moved($limit));
    }

    public function severity(): Severity
    {
        return $this->limits->mildest->severity;
    }

    public function words(string $unit): string
    {
        return 'will go ' . $this->limits->words($unit) . " within {$this->within->words()}";
    }

    public function title(string $unit, Duration $hold): string
    {
        return 'will be ' . $this->limits->words($unit) . " within {$this->within->words()} if it goes on like this";
    }

    public function backWords(string $unit): string
    {
        return 'foreseen ' . $this->limits->backWords($unit);
    }

    public function reason(array $numbers, string $unit): string
    {
        $limit = "limit {$this->limits->words($unit)} within {$this->within->words()}";

        return isset($numbers['foreseen'], $numbers['error'])
            ? 'foreseen at ' .
                Quantity::words($numbers['foreseen'], $unit) .
                ' give or take ' .
                Quantity::words($numbers['error'], $unit) .
                ", {$limit}"
            : $limit;
    }

    public function lines(): array
    {
        return $this->limits->ends();
    }

    private function foreseeable(float $value, float $foreseen, float $error): ?Severity
    {
        return $error <= abs($this->limits->mildest->limit - $value) ? $this->limits->severityAt($foreseen) : null;
    }

    private function foreseen(Node $watched, ForeseenPart $part): Foreseen
    {
        $span = max(self::SHORTEST_SPAN_HOURS * 3_600_000, self::SPANS * $this->within->ms);

        return new Foreseen($watched, $this->within->ms, min($span, Duration::ofDays(self::LONGEST_DAYS)->ms), $part);
    }
}

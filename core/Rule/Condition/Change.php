<?php

declare(strict_types=1);

namespace Olivine\Core\Rule\Condition;

use Olivine\Core\Formula\Node\Ago;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Limited;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Memory;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
use Olivine\Core\Rule\Track;
use Olivine\Core\Rule\Verdict;
use Olivine\Core\Rule\Way;
use Olivine\Core\Series\Quantity;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * A value against itself some time ago: by how much it rose, fell, or moved either way, in its own unit or as a share of what
 * it was. By example, "rises by more than 20 % against 1 h ago": 1,000 an hour ago and 1,250 now is 25 %, so it is past.
 * Of what was nothing, anything is an infinite share more.
 */
final readonly class Change implements Limited
{
    private const LONGEST_DAYS = 35;

    /**
     * @param Limits $limits  above which a change is too much; shares where $isShare
     * @param bool   $isShare of what it was then
     *
     * @throws BadRule naming the field that cannot be so
     */
    public function __construct(public Way $way, public Limits $limits, public Duration $ago, public bool $isShare)
    {
        if ($limits->side !== Side::Above || $limits->clear < 0) {
            throw new BadRule('limits', 'must be amounts above nothing: by how much it changes');
        }
        if ($ago->ms < 1_000 || $ago->isLongerThan(Duration::ofDays(self::LONGEST_DAYS))) {
            throw new BadRule('agoSeconds', 'must lie between 1 s and 35 d');
        }
    }

    public function inputs(Node $watched): array
    {
        return [$watched, new Ago($watched->place(), $watched, $this->ago->ms)];
    }

    public function judge(Memory $memory, Instant $at, array $values): Verdict
    {
        $value = $values[0];
        $then = $values[1] ?? null;
        if ($value === null || is_nan($value)) {
            return Verdict::unknown('');
        }
        $change = $this->change($value, $then);
        if ($then === null || $change === null) {
            // Nothing is known of then: nothing has changed, and nothing is back.
            return Verdict::between($value, $this->severity());
        }
        $numbers = ['then' => $then, 'change' => $change];
        $severity = $this->limits->severityAt($change);

        return match (true) {
            $severity !== null => Verdict::past($value, $severity, $numbers),
            $this->limits->isBack($change) => Verdict::back($value, $numbers),
            default => Verdict::between($value, $this->severity(), $numbers),
        };
    }

    public function calmUntil(Track $track, int $from): int
    {
        $values = $track->columns[0];
        $count = count($values);
        $limit = $this->limits->mildest->limit;
        for ($i = $from; $i < $count; ++$i) {
            $change = $values[$i] === null ? null : $this->change($values[$i], $track->columns[1][$i] ?? null);
            if ($change === null || !($change <= $limit)) {
                return $i;
            }
        }

        return $count;
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
        return new self($this->way, $limits, $this->ago, $this->isShare);
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
        $amount = Quantity::words($this->limits->mildest->limit, $this->unit($unit));

        return "{$this->way->value} by more than {$amount} against {$this->ago->words()} ago";
    }

    public function title(string $unit, Duration $hold): string
    {
        $amount = Quantity::words($this->limits->mildest->limit, $this->unit($unit));
        $for = $hold->isNone() ? '' : ", for {$hold->words()} by now";

        return "{$this->way->past()} by more than {$amount} against {$this->ago->words()} before{$for}";
    }

    public function backWords(string $unit): string
    {
        return 'a change of at most ' . Quantity::words($this->limits->clear, $this->unit($unit));
    }

    public function reason(array $numbers, string $unit): string
    {
        $limit = 'limit ' . Quantity::words($this->limits->mildest->limit, $this->unit($unit)) . " against {$this->ago->words()} ago";

        return isset($numbers['then'], $numbers['change'])
            ? Quantity::words($numbers['then'], $unit) . ' then, ' . Quantity::words($numbers['change'], $this->unit($unit)) . ", {$limit}"
            : $limit;
    }

    public function lines(): array
    {
        return [];
    }

    /** @return float|null how far it went the way that is looked at */
    private function change(float $value, ?float $then): ?float
    {
        if ($then === null || is_nan($then) || is_nan($value)) {
            return null;
        }
        $change = $value - $then;
        if ($this->isShare) {
            $change = match (true) {
                $change === 0.0 => 0.0,
                $then === 0.0 => $change > 0 ? INF : -INF,
                default => $change / abs($then),
            };
        }

        return match ($this->way) {
            Way::Rises => $change,
            Way::Falls => -$change,
            Way::Moves => abs($change),
        };
    }

    private function unit(string $unit): string
    {
        return $this->isShare ? 'ratio' : $unit;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Rule\Condition;

use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Spread;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Baseline;
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
 * A value that is far from what is usual, measured in what it usually is away from that, and by enough to matter.
 *
 * By example, usually 100 give or take 4 (a median and its scaled MAD): at 130 it is 7.5 spreads above; past a limit of 5,
 * and as 30 is more than the least change of 20, it is past. At 118 it would be 4.5, and not past.
 */
final readonly class Departure implements Limited
{
    private const TIMES = 'times';

    /**
     * @param Way    $way    above its usual, below it, or either
     * @param Limits $limits above which a distance is too far, in spreads
     * @param float  $least  change that matters, in the unit of what is watched
     *
     * @throws BadRule naming the field that cannot be so
     */
    public function __construct(
        public Baseline $baseline,
        public Way $way,
        public Limits $limits,
        public float $least = 0.0,
    ) {
        if ($limits->side !== Side::Above || $limits->clear < 0) {
            throw new BadRule('limits', 'must be distances above nothing: so many times what is usual');
        }
        if (!is_finite($least) || $least < 0) {
            throw new BadRule('least', 'must be the least change that matters, or 0');
        }
    }

    public function inputs(Node $watched): array
    {
        return [$watched, $this->baseline->centre($watched), $this->baseline->spread($watched)];
    }

    public function judge(Memory $memory, Instant $at, array $values): Verdict
    {
        $value = $values[0];
        $usual = $values[1] ?? null;
        $spread = $values[2] ?? null;
        if ($value === null || is_nan($value)) {
            return Verdict::unknown('');
        }
        if ($usual === null || $spread === null) {
            // Nobody knows yet what is usual: nothing is past it, and nothing is back.
            return Verdict::between($value, $this->severity());
        }
        $apart = $this->apart($value, $usual, $spread);
        $numbers = ['usual' => $usual, 'spread' => $spread, 'apart' => $apart];
        $severity = $this->limits->severityAt($apart);

        return match (true) {
            $severity !== null => Verdict::past($value, $severity, $numbers),
            $this->limits->isBack($apart) => Verdict::back($value, $numbers),
            default => Verdict::between($value, $this->severity(), $numbers),
        };
    }

    public function calmUntil(Track $track, int $from): int
    {
        $values = $track->columns[0];
        $count = count($values);
        $limit = $this->limits->mildest->limit;
        for ($i = $from; $i < $count; ++$i) {
            [$value, $usual, $spread] = [$values[$i], $track->columns[1][$i] ?? null, $track->columns[2][$i] ?? null];
            if ($value === null || $usual === null || $spread === null || !($this->apart($value, $usual, $spread) <= $limit)) {
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
        return new self($this->baseline, $this->way, $limits, $this->least);
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
        $far = Quantity::words($this->limits->mildest->limit, '');
        $least = $this->least > 0 ? ' and at least ' . Quantity::words($this->least, $unit) : '';

        return "{$this->wayWords()} {$this->baseline->words()} by {$far} " . self::TIMES . " its spread{$least}";
    }

    public function title(string $unit, Duration $hold): string
    {
        $for = $hold->isNone() ? '' : " for {$hold->words()}";

        return "has been {$this->wayWords()} {$this->baseline->words()}{$for}";
    }

    public function backWords(string $unit): string
    {
        return 'within ' . Quantity::words($this->limits->clear, '') . ' ' . self::TIMES . ' its spread';
    }

    public function reason(array $numbers, string $unit): string
    {
        $limit = 'limit ' . Quantity::words($this->limits->mildest->limit, '') . ' ' . self::TIMES . ' its spread';

        return isset($numbers['usual'], $numbers['apart'])
            ? 'usually ' . Quantity::words($numbers['usual'], $unit) . ', ' . Quantity::words($numbers['apart'], '') . " spreads away, {$limit}"
            : $limit;
    }

    public function lines(): array
    {
        return [];
    }

    /**
     * Between which values it is as usual as is asked for; open to the side that is not looked at.
     *
     * @return array{float, float} the lower and the higher end
     */
    public function range(float $usual, float $spread): array
    {
        $away = max($this->least, $this->limits->mildest->limit * $spread);

        return [
            $this->way === Way::Rises ? -INF : $usual - $away,
            $this->way === Way::Falls ? INF : $usual + $away,
        ];
    }

    private function wayWords(): string
    {
        return match ($this->way) {
            Way::Rises => 'above',
            Way::Falls => 'below',
            Way::Moves => 'away from',
        };
    }

    /** @return float in spreads, the way that is looked at; nothing where it is too little to matter */
    private function apart(float $value, float $usual, float $spread): float
    {
        if (abs($value - $usual) < $this->least) {
            return 0.0;
        }
        $distance = Spread::distance($usual, $value, $spread);

        return match ($this->way) {
            Way::Rises => $distance,
            Way::Falls => -$distance,
            Way::Moves => abs($distance),
        };
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Rule\Condition;

use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Rule\Counting;
use Olivine\Core\Rule\Limited;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Memory;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Track;
use Olivine\Core\Rule\Verdict;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * A value held against limits, at every look, or counting the last ones.
 *
 * Counting, by example 3 of the last 5: of 410 380 420 390 430 the first, third and fifth are above 400, so it is past.
 */
final readonly class Threshold implements Limited
{
    public function __construct(public Limits $limits, public ?Counting $counting = null)
    {
    }

    public function inputs(Node $watched): array
    {
        return [$watched];
    }

    public function judge(Memory $memory, Instant $at, array $values): Verdict
    {
        $value = $values[0];
        if ($value === null || is_nan($value)) {
            return Verdict::unknown('', $memory);
        }
        if ($this->counting !== null) {
            return $this->counted($this->counting, $memory, $value);
        }
        $severity = $this->limits->severityAt($value);

        return match (true) {
            $severity !== null => Verdict::past($value, $severity),
            $this->limits->isBack($value) => Verdict::back($value),
            default => Verdict::between($value, $this->limits->mildest->severity),
        };
    }

    public function calmUntil(Track $track, int $from): int
    {
        return $this->counting === null ? $this->limits->firstPast($track, $from) : $from;
    }

    public function pastUntil(Track $track, int $from, Severity $severity): int
    {
        return $this->counting === null ? $this->limits->firstNotAsGrave($track, $from, $severity) : $from;
    }

    public function limits(): Limits
    {
        return $this->limits;
    }

    public function limitedBy(Limits $limits): self
    {
        return new self($limits, $this->counting);
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
        return $this->limits->words($unit) . ($this->counting === null ? '' : " at {$this->counting->words()}");
    }

    public function title(string $unit, Duration $hold): string
    {
        return $hold->isNone() ? "is {$this->words($unit)}" : "has held {$this->words($unit)} for {$hold->words()}";
    }

    public function backWords(string $unit): string
    {
        return $this->limits->backWords($unit);
    }

    public function reason(array $numbers, string $unit): string
    {
        $count = isset($numbers['past'], $numbers['of']) ? sprintf(', past it at %d of the last %d looks', $numbers['past'], $numbers['of']) : '';

        return "limit {$this->limits->words($unit)}{$count}";
    }

    public function lines(): array
    {
        return $this->limits->ends();
    }

    private function counted(Counting $counting, Memory $memory, float $value): Verdict
    {
        $rank = $this->limits->severityAt($value)?->rank() ?? 0;
        $ranks = array_slice([...$memory->numbers, (float) $rank], -$counting->of);
        $memory = new Memory($ranks);
        $numbers = ['past' => (float) count(array_filter($ranks, static fn(float $rank): bool => $rank > 0.0)), 'of' => (float) $counting->of];
        $severity = $this->worstOf($counting, $ranks);

        return match (true) {
            $severity !== null => Verdict::past($value, $severity, $numbers, $memory),
            $this->limits->isBack($value) => Verdict::back($value, $numbers, $memory),
            default => Verdict::between($value, $this->limits->mildest->severity, $numbers, $memory),
        };
    }

    /**
     * @param list<float> $ranks of the severities at the last looks, 0 where it was past nothing
     *
     * @return Severity|null the worst that enough of them were as grave as
     */
    private function worstOf(Counting $counting, array $ranks): ?Severity
    {
        foreach (array_reverse($this->limits->levels) as $level) {
            $asGrave = array_filter($ranks, static fn(float $rank): bool => $rank >= $level->severity->rank());
            if (count($asGrave) >= $counting->need) {
                return $level->severity;
            }
        }

        return null;
    }
}

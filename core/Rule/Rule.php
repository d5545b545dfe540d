<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Nearness;
use Olivine\Core\Formula\Node\Filter;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Usual;
use Olivine\Core\Rule\Condition\Departure;
use Olivine\Core\Rule\Condition\Forecast;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;

/** A rule as it works: what it looks at, what makes it raise, how long that must last, and how often it looks. */
final readonly class Rule
{
    private const MOST_OTHERS = 20;

    /** @var list<array{Filter, Condition}> */
    private array $conditions;
    /** @var \WeakMap<LabelSet, Condition> looked up once: a filter may hold expressions */
    private \WeakMap $known;

    /**
     * @param list<string>      $dependsOn rules whose alerts explain this one's: while such a one is raised, this one is held
     * @param list<OtherLimits> $others    for some of what it looks at
     * @param float             $mustSee   the share of a window that must have been seen to judge by it, 0 to 1
     *
     * @throws BadRule naming the field that cannot be so
     */
    public function __construct(
        public Node $watched,
        public Condition $condition,
        public Holding $holding,
        public Duration $step,
        public ?Together $together = null,
        public array $dependsOn = [],
        public array $others = [],
        public float $mustSee = 0.0,
    ) {
        $this->known = new \WeakMap();
        $this->conditions = array_map(fn(OtherLimits $other): array => [$other->where, $this->limitedBy($other->limits)], $others);
        if (count($others) > self::MOST_OTHERS) {
            throw new BadRule('others', 'may be at most ' . self::MOST_OTHERS . ' limits for some');
        }
    }

    /**
     * The same with another condition, another holding, or another formula.
     *
     * @throws BadRule naming the field that cannot be so
     */
    public function with(?Condition $condition = null, ?Holding $holding = null, ?Node $watched = null): self
    {
        return new self(
            $watched ?? $this->watched,
            $condition ?? $this->condition,
            $holding ?? $this->holding,
            $this->step,
            $this->together,
            $this->dependsOn,
            $this->others,
            $this->mustSee,
        );
    }

    /** @return Duration|null for how long it matters when it was raised: what was read then is no part of what is usual. Null: to most rules it does not */
    public function remembersSpells(): ?Duration
    {
        $baseline = $this->condition instanceof Departure ? $this->condition->baseline : null;

        return $baseline?->method === null ? null : $baseline->span->times(Usual::SPANS_REMEMBERED);
    }

    /** How near a forecast must come to matter: to where it would not be back. Null: it is no rule that looks ahead. */
    public function nearness(): ?Nearness
    {
        if (!$this->condition instanceof Forecast) {
            return null;
        }
        $isAbove = $this->condition->limits->side->isPast(1.0, 0.0);
        $bounds = $this->bounds();

        return $bounds === [] ? null : new Nearness($isAbove ? min($bounds) : max($bounds), $isAbove);
    }

    /** What makes one of its label sets raise. */
    public function conditionOf(LabelSet $labels): Condition
    {
        if ($this->conditions === []) {
            return $this->condition;
        }

        return $this->known[$labels] ??= $this->found($labels);
    }

    private function found(LabelSet $labels): Condition
    {
        $fits = array_find($this->conditions, static fn(array $one): bool => $one[0]->accepts($labels));

        return $fits === null ? $this->condition : $fits[1];
    }

    /** @return list<float> of all its limits, those at which it raises and those at which it clears */
    public function bounds(): array
    {
        $bounds = [];
        foreach ([$this->condition, ...array_column($this->conditions, 1)] as $condition) {
            $limits = $condition instanceof Limited ? $condition->limits() : null;
            if ($limits !== null) {
                array_push($bounds, ...$limits->ends(), ...array_filter([$limits->clear, $limits->clearTo], is_finite(...)));
            }
        }

        return $bounds;
    }

    /** @throws BadRule */
    private function limitedBy(Limits $limits): Condition
    {
        if (!$this->condition instanceof Limited) {
            throw new BadRule('others', 'need a rule with limits; this one has none');
        }
        if ($limits->side !== $this->condition->limits()->side) {
            throw new BadRule('others', "must be on the same side, {$this->condition->limits()->side->value}, as the rule's own limits");
        }

        return $this->condition->limitedBy($limits);
    }
}

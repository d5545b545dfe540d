<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Instant;

/** All that the course of an incident depends on, and all that it changes. */
final readonly class IncidentState
{
    /**
     * @param string                      $path        the name of the one that answers for it
     * @param string                      $group       what of
     * @param bool                        $lookedBack  whether it was found in the past, so that nobody is told
     * @param array<string, GroupedAlert> $alerts      by their keys
     * @param list<int>                   $climbed     the rounds of the rungs that were climbed
     * @param list<int>                   $told        people who were told of the raise, or may have been
     * @param int|null                    $heldBy      who has it in hand, or ended it by hand
     * @param Instant|null                $heldUntil   when nobody has it any more; null: until it is over
     * @param int                         $lap         how often its ladder began anew
     * @param Instant|null                $lapFrom     when it did last
     * @param Instant|null                $hushedUntil when somebody is to be told at the earliest, as all of it is muted; null: it is not
     */
    public function __construct(
        public string $path,
        public string $group,
        public string $title,
        public Severity $severity,
        public Instant $openedAt,
        public bool $lookedBack,
        public IncidentStatus $status = IncidentStatus::Open,
        public array $alerts = [],
        public array $climbed = [],
        public array $told = [],
        public ?int $heldBy = null,
        public ?Instant $overAt = null,
        public ?Instant $heldUntil = null,
        public int $lap = 0,
        public ?Instant $lapFrom = null,
        public ?Instant $hushedUntil = null,
    ) {
    }

    public function place(): IncidentPlace
    {
        return new IncidentPlace($this->path, $this->group);
    }

    public function isOver(): bool
    {
        return $this->status === IncidentStatus::Resolved;
    }

    public function isAnyUp(): bool
    {
        foreach ($this->alerts as $alert) {
            if ($alert->isUp()) {
                return true;
            }
        }

        return false;
    }

    /** @return array<string, GroupedAlert> that are not over */
    public function up(): array
    {
        return array_filter($this->alerts, static fn(GroupedAlert $alert): bool => $alert->isUp());
    }

    /** @return list<string> who owns the rules of its alerts, each once */
    public function owners(): array
    {
        $owners = array_map(static fn(GroupedAlert $alert): string => $alert->about->get('owner'), $this->alerts);

        return array_values(array_unique(array_filter($owners, static fn(string $owner): bool => $owner !== '')));
    }

    /** @return list<string> the values of a label over all of its alerts, each once, without the empty one */
    public function valuesOf(string $label): array
    {
        $values = array_map(static fn(GroupedAlert $alert): string => $alert->about->get($label), $this->alerts);

        return array_values(array_unique(array_filter($values, static fn(string $value): bool => $value !== '')));
    }

    /** @return bool whether somebody ended it, alerts that were up among it */
    public function endedByHand(): bool
    {
        return array_any($this->alerts, static fn(GroupedAlert $alert): bool => $alert->endedAt !== null && $alert->end === null);
    }

    /** A lap that none of its rungs was climbed in yet, whatever its ladders were meanwhile. */
    public function nextLap(): int
    {
        return max([$this->lap, ...array_map(Rung::lapOf(...), $this->climbed)]) + 1;
    }

    public function withAlert(string $key, GroupedAlert $alert): self
    {
        return $this->with(alerts: [$key => $alert] + $this->alerts);
    }

    public function withoutAlert(string $key): self
    {
        return $this->with(alerts: array_diff_key($this->alerts, [$key => true]));
    }

    public function called(string $title, Severity $severity): self
    {
        return $this->with(title: $title, severity: $severity);
    }

    public function climbedTo(int $round): self
    {
        return $this->with(climbed: [...$this->climbed, $round]);
    }

    /** As it is when somebody was told of the raise. */
    public function toldTo(int $person): self
    {
        return in_array($person, $this->told, true) ? $this : $this->with(told: [...$this->told, $person]);
    }

    /** As it is when somebody has it. */
    public function heldBy(int $person, ?Instant $until = null): self
    {
        return $this->inHands($person, IncidentStatus::Acknowledged, $until, $this->lap, $this->lapFrom);
    }

    /** As it is when nobody has it any more. */
    public function handedBack(): self
    {
        return $this->inHands(null, IncidentStatus::Open, null, $this->lap, $this->lapFrom);
    }

    /** Nobody has it any more, it is over no more, and its ladder begins anew. */
    public function climbedAnew(Instant $at): self
    {
        return $this->inHands(null, IncidentStatus::Open, null, $this->nextLap(), $at);
    }

    /** Another path answers for it from now on, up a ladder of its own; who has it in hand keeps it. */
    public function answeredBy(string $path, string $group, Instant $at): self
    {
        return $this->with(path: $path, group: $group)->inHands($this->heldBy, $this->status, $this->heldUntil, $this->nextLap(), $at);
    }

    /** The rest of its ladder comes sooner or later, as if it had begun then. */
    public function asIfBegunAt(Instant $lapFrom): self
    {
        return $this->inHands($this->heldBy, $this->status, $this->heldUntil, $this->lap, $lapFrom);
    }

    private function inHands(?int $person, IncidentStatus $status, ?Instant $until, int $lap, ?Instant $lapFrom): self
    {
        return new self(
            $this->path,
            $this->group,
            $this->title,
            $this->severity,
            $this->openedAt,
            $this->lookedBack,
            $status,
            $this->alerts,
            $this->climbed,
            $this->told,
            $person,
            null,
            $until,
            $lap,
            $lapFrom,
            $this->hushedUntil,
        );
    }

    /** @param Instant|null $until null: it is to be heard */
    public function hushed(?Instant $until): self
    {
        return new self(
            $this->path,
            $this->group,
            $this->title,
            $this->severity,
            $this->openedAt,
            $this->lookedBack,
            $this->status,
            $this->alerts,
            $this->climbed,
            $this->told,
            $this->heldBy,
            $this->overAt,
            $this->heldUntil,
            $this->lap,
            $this->lapFrom,
            $until,
        );
    }

    public function over(Instant $at): self
    {
        return $this->with(status: IncidentStatus::Resolved, overAt: $at);
    }

    /**
     * @param array<string, GroupedAlert>|null $alerts
     * @param list<int>|null                   $climbed
     * @param list<int>|null                   $told
     */
    private function with(
        ?string $path = null,
        ?string $group = null,
        ?string $title = null,
        ?Severity $severity = null,
        ?IncidentStatus $status = null,
        ?array $alerts = null,
        ?array $climbed = null,
        ?array $told = null,
        ?Instant $overAt = null,
    ): self {
        return new self(
            $path ?? $this->path,
            $group ?? $this->group,
            $title ?? $this->title,
            $severity ?? $this->severity,
            $this->openedAt,
            $this->lookedBack,
            $status ?? $this->status,
            $alerts ?? $this->alerts,
            $climbed ?? $this->climbed,
            $told ?? $this->told,
            $this->heldBy,
            $overAt ?? $this->overAt,
            $this->heldUntil,
            $this->lap,
            $this->lapFrom,
            $this->hushedUntil,
        );
    }
}

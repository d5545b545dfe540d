<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Formula\Node\Filter;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WeekHours;

/**
 * An ordered row of delivery: which alerts it answers for and when, which of them are one incident, how long they gather, and up
 * which ladder it goes. Exactly one answers for an alert: the first that matches.
 *
 * By example, a path for `service = "boarding-gate"` per broker: the queues of broker-north are one incident, those of
 * broker-south another one.
 */
final readonly class Path
{
    private const LONGEST_GROUP = 120;

    /**
     * @param Filter|null    $for     on labels, and on `severity`, `rule` and `owner`; null: everything
     * @param WeekHours|null $hours   null: always
     * @param list<string>   $per     labels that an incident's alerts share; none: all of them are one
     * @param Duration|null  $reopens an incident that was over for no longer than this comes up again with the next alert of its group; null: never
     */
    public function __construct(
        public string $name,
        public ?Filter $for,
        public ?WeekHours $hours,
        public array $per,
        public Gather $gather,
        public Ladder $ladder,
        public ?Duration $reopens = null,
    ) {
    }

    /** The same where it is tried out: told at once, rung after rung. */
    public function rehearsed(): self
    {
        return new self($this->name, $this->for, $this->hours, $this->per, Gather::lasting(Duration::none()), $this->ladder->rehearsed());
    }

    /** @param LabelSet $about the alert's labels, and what else it can be told by */
    public function answersFor(LabelSet $about, Instant $at): bool
    {
        return ($this->for?->accepts($about) ?? true) && ($this->hours?->covers($at) ?? true);
    }

    /** @return string what its incident is of: `boarding-gate`, `broker-north, skarn`, `no service` */
    public function group(LabelSet $about): string
    {
        $values = array_map(static fn(string $label): string => $about->get($label) === '' ? "no {$label}" : $about->get($label), $this->per);

        return mb_substr($values === [] ? $this->name : implode(', ', $values), 0, self::LONGEST_GROUP);
    }

    /** Why two alerts are of one incident: `same service`. */
    public function sameness(): string
    {
        return $this->per === [] ? 'same path' : 'same ' . implode(' and ', $this->per);
    }
}

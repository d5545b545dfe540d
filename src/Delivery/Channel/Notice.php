<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\ToldAlert;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Time\Instant;

/** What is to be told of an incident, before any channel writes it in its way. */
final readonly class Notice
{
    /**
     * @param string          $key    the same however often it is sent
     * @param list<ToldAlert> $alerts the one that decides first
     * @param int             $more   alerts beside these
     */
    public function __construct(
        public Incident $incident,
        public MessageKind $kind,
        public string $key,
        public array $alerts,
        public int $more,
        public ?DrawnAlert $drawn,
        public Instant $at,
    ) {
    }

    /** By its title alone, and how many alerts it has. */
    public static function titled(Incident $incident, MessageKind $kind, string $key, int $alerts, Instant $at): self
    {
        return new self($incident, $kind, $key, [], $alerts, null, $at);
    }

    /** Whether there is something to answer: it is not over, and is for whoever reads it to act on. */
    public function isAnswered(): bool
    {
        return !$this->isOfTheEnd() && !$this->kind->isCopy();
    }

    public function isOfTheEnd(): bool
    {
        return $this->kind->isOfTheEnd();
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Roster\Repository\AbsenceCalendarRepository;
use Olivine\Core\Time\Instant;

/** A calendar from outside: when somebody is away, or the holidays of the site. */
#[ORM\Entity(repositoryClass: AbsenceCalendarRepository::class)]
#[ORM\Table(name: 'absence_calendar')]
class AbsenceCalendar
{
    public const NAME_LENGTH = 80;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $triedAt = null;

    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $readAt = null;

    /** Why it could not be read last; "" where it was. */
    #[ORM\Column(length: 500)]
    public string $fault = '';

    #[ORM\Column]
    public int $entries = 0;

    /**
     * Of a calendar of holidays its days.
     *
     * @var list<string>
     */
    #[ORM\Column(type: 'json')]
    public array $days = [];

    /**
     * @param int|null    $personId who is away by it; null: holidays of the site
     * @param string|null $url      sealed; null: it was given as a file
     */
    public function __construct(
        #[ORM\Column(nullable: true)]
        public ?int $personId,
        #[ORM\Column(length: self::NAME_LENGTH)]
        public string $name,
        #[ORM\Column(type: 'text', nullable: true)]
        public ?string $url,
        #[ORM\Column(nullable: true)]
        public ?int $byId,
    ) {
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The calendar is not saved yet');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Delivery\Repository\TemplateRepository;
use Olivine\Core\Time\Instant;

/** How a channel words its messages to a team: one state of it. The newest counts; one that was removed gives way to what ships. */
#[ORM\Entity(repositoryClass: TemplateRepository::class)]
#[ORM\Table(name: 'template_revision')]
#[ORM\UniqueConstraint(name: 'template_revision_number', columns: ['way', 'team', 'number'])]
class TemplateRevision
{
    public const SUBJECT_LENGTH = 500;
    public const TEAM_LENGTH = 80;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    /**
     * @param string $way    `e-mail`, or the name of a channel
     * @param string $team   "": everyone
     * @param int    $number from 1 on
     */
    public function __construct(
        #[ORM\Column(length: KeptChannel::NAME_LENGTH)]
        public string $way,
        #[ORM\Column(length: self::TEAM_LENGTH)]
        public string $team,
        #[ORM\Column]
        public int $number,
        #[ORM\Column(length: self::SUBJECT_LENGTH)]
        public string $subject,
        #[ORM\Column(type: 'text')]
        public string $text,
        #[ORM\Column]
        public bool $removed,
        #[ORM\Column(nullable: true)]
        public ?int $authorId,
        #[ORM\Column(type: 'instant')]
        public Instant $at,
    ) {
    }
}

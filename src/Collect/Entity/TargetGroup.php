<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Collect\Repository\TargetGroupRepository;

/** Settings that its targets inherit where they have none of their own. */
#[ORM\Entity(repositoryClass: TargetGroupRepository::class)]
#[ORM\Table(name: 'target_group')]
class TargetGroup
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    #[ORM\Column(length: Target::NAME_LENGTH, unique: true)]
    public string $name;

    #[ORM\Column]
    public int $intervalSeconds = 15;

    #[ORM\Column]
    public int $timeoutSeconds = 10;

    /** @var array<string, string> */
    #[ORM\Column(type: 'json')]
    public array $labels = [];

    #[ORM\Column(type: 'text', nullable: true)]
    public ?string $credential = null;
    /** @var list<string> servers that its credential was entered for: those of its members then */
    #[ORM\Column(type: 'json')]
    public array $credentialOrigins = [];
    /** Counts the changes; an editor that saves must have read this one. */
    #[ORM\Version, ORM\Column(type: 'integer')]
    public int $version = 1;

    public function __construct(string $name)
    {
        $this->name = $name;
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The group is not saved yet');
    }
}

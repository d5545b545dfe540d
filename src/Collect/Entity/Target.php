<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A thing readings come from. */
#[ORM\Entity]
#[ORM\Table(name: 'target')]
class Target
{
    /** A series is stale after this many intervals without a reading. */
    public const STALE_INTERVALS = 3;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    #[ORM\Column(length: 120, unique: true)]
    public string $name;

    #[ORM\Column(length: 2000)]
    public string $url;

    #[ORM\Column]
    public int $intervalSeconds = 15;

    #[ORM\Column]
    public int $timeoutSeconds = 10;

    /** @var array<string, string> laid over the labels of each of its series */
    #[ORM\Column(type: 'json')]
    public array $labels = [];

    #[ORM\Column]
    public bool $paused = false;

    #[ORM\Column(type: 'bigint')]
    public int $createdAt;

    public function __construct(string $name, string $url, int $createdAt)
    {
        $this->name = $name;
        $this->url = $url;
        $this->createdAt = $createdAt;
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The target is not saved yet');
    }
}

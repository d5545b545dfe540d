<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\Collect\ScrapeRefused;
use Olivine\App\Collect\SourceKind;
use Olivine\Core\Series\Window;
use Olivine\Core\Time\Instant;

/** A thing readings come from. */
#[ORM\Entity(repositoryClass: TargetRepository::class)]
#[ORM\Table(name: 'target')]
class Target
{
    /** A series is stale after this many intervals without a reading. */
    public const STALE_INTERVALS = Window::STALE_INTERVALS;
    public const NAME_LENGTH = 120;
    public const NAME = '~^[\p{L}\p{N}][\p{L}\p{N} ._:/-]*$~uD';

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    #[ORM\Column(length: self::NAME_LENGTH, unique: true)]
    public string $name;

    #[ORM\Column(length: 2000)]
    public string $url;

    #[ORM\Column(length: 20, enumType: SourceKind::class, options: ['default' => 'scrape'])]
    public SourceKind $kind = SourceKind::Scrape;

    /** @var array<string, mixed>|null of a check: what is asked, as it was written */
    #[ORM\Column(type: 'json', nullable: true)]
    public ?array $asks = null;

    /** Of a check: what is filled into its requests, sealed, with the servers it was entered for. */
    #[ORM\Column(type: 'text', nullable: true)]
    public ?string $secrets = null;

    /** @var list<int> of a check: where it is asked from; none of a scrape */
    #[ORM\Column(type: 'json')]
    public array $places = [];

    /** Of a check: above this its answer is slow. */
    #[ORM\Column(nullable: true)]
    public ?int $slowMs = null;

    /** Of a check: what it asks is always up, so where nothing of the kind answers a place is cut off. */
    #[ORM\Column(options: ['default' => false])]
    public bool $isReference = false;

    /** By which recipe it came to be watched; null where it was written by hand. */
    #[ORM\Column(length: 60, nullable: true)]
    public ?string $recipe = null;

    #[ORM\Column]
    public int $intervalSeconds = 15;

    #[ORM\Column]
    public int $timeoutSeconds = 10;

    /** @var array<string, string> laid over the labels of each of its series: the group's, and its own over these */
    #[ORM\Column(type: 'json')]
    public array $labels = [];

    /** @var array<string, string> */
    #[ORM\Column(type: 'json')]
    public array $ownLabels = [];

    #[ORM\ManyToOne(targetEntity: TargetGroup::class)]
    #[ORM\JoinColumn(name: 'group_id', nullable: true)]
    public ?TargetGroup $group = null;

    /** @var list<string> which of interval, timeout and credential come from the group */
    #[ORM\Column(type: 'json')]
    public array $inherits = [];

    /** Its own, sealed. */
    #[ORM\Column(type: 'text', nullable: true)]
    public ?string $credential = null;

    /** @var list<string> servers that its own credential was entered for */
    #[ORM\Column(type: 'json')]
    public array $credentialOrigins = [];
    /** Removed targets can be brought back for a day. */
    #[ORM\Column(type: 'instant', nullable: true)]
    public ?Instant $removedAt = null;

    #[ORM\Column]
    public bool $paused = false;

    #[ORM\Column(type: 'instant')]
    public Instant $createdAt;
    /** Counts the changes; an editor that saves must have read this one. */
    #[ORM\Version, ORM\Column(type: 'integer')]
    public int $version = 1;

    public function __construct(string $name, string $url, Instant $createdAt)
    {
        $this->name = $name;
        $this->url = $url;
        $this->createdAt = $createdAt;
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The target is not saved yet');
    }

    /** Brings what comes from the group up to date. */
    public function inherit(): void
    {
        $this->labels = $this->ownLabels + ($this->group->labels ?? []);
        if ($this->group === null) {
            $this->inherits = [];

            return;
        }
        if (in_array('interval', $this->inherits, true)) {
            $this->intervalSeconds = $this->group->intervalSeconds;
        }
        if (in_array('timeout', $this->inherits, true)) {
            $this->timeoutSeconds = $this->group->timeoutSeconds;
        }
        $this->timeoutSeconds = min($this->timeoutSeconds, $this->intervalSeconds);
    }

    public function inheritsCredential(): bool
    {
        return in_array('credential', $this->inherits, true);
    }

    public function sealedCredential(): ?string
    {
        return $this->inheritsCredential() ? $this->group?->credential : $this->credential;
    }

    /**
     * A credential goes only to the servers it was entered for.
     *
     * @return string|null sealed
     *
     * @throws ScrapeRefused where there is one, but not for this server
     */
    public function credentialFor(string $origin): ?string
    {
        $credential = $this->sealedCredential();
        $origins = $this->inheritsCredential() ? $this->group->credentialOrigins ?? [] : $this->credentialOrigins;
        if ($credential !== null && !in_array($origin, $origins, true)) {
            throw new ScrapeRefused(
                $this->inheritsCredential()
                    ? "The credential of the group {$this->group?->name} was not entered for {$origin}; enter it again in the group, or one for this target"
                    : "The credential was not entered for {$origin}; enter it again",
            );
        }

        return $credential;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Delivery\Repository\WebhookRepository;

/** Another program that is told of incidents, each message signed. */
#[ORM\Entity(repositoryClass: WebhookRepository::class)]
#[ORM\Table(name: 'webhook')]
class Webhook
{
    public const NAME_LENGTH = 40;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    /** As deliveries and the trail name it. */
    #[ORM\Column(length: self::NAME_LENGTH, unique: true)]
    public string $name;

    #[ORM\Column(length: 2_000)]
    public string $url;

    /** What its messages are signed with, sealed. */
    #[ORM\Column(type: 'text')]
    public string $secret;

    /** Whether it is told what another way did not take. */
    #[ORM\Column]
    public bool $standsIn;

    /** Counts the changes; an editor that saves must have read this one. */
    #[ORM\Version, ORM\Column(type: 'integer')]
    public int $version = 1;

    public function __construct(string $name, string $url, string $secret, bool $standsIn)
    {
        $this->name = $name;
        $this->url = $url;
        $this->secret = $secret;
        $this->standsIn = $standsIn;
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The webhook is not saved yet');
    }
}

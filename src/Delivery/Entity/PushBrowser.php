<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Delivery\Repository\PushBrowserRepository;
use Olivine\Core\Time\Instant;

/** A browser that somebody lets be told also while no page is open in it. */
#[ORM\Entity(repositoryClass: PushBrowserRepository::class)]
#[ORM\Table(name: 'push_browser')]
#[ORM\Index(name: 'push_browser_person', columns: ['person_id'])]
class PushBrowser
{
    public const ENDPOINT_LENGTH = 1_000;
    public const LABEL_LENGTH = 80;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    #[ORM\Column(length: 64, unique: true)]
    public string $endpointHash;

    /**
     * @param string $endpoint where its push service takes messages for it
     * @param string $key      its public key, base64url
     * @param string $auth     what it gave beside, base64url
     * @param string $label    as its owner knows it
     */
    public function __construct(
        #[ORM\Column]
        public int $personId,
        #[ORM\Column(length: self::ENDPOINT_LENGTH)]
        public string $endpoint,
        #[ORM\Column(name: 'browser_key', length: 120)]
        public string $key,
        #[ORM\Column(length: 40)]
        public string $auth,
        #[ORM\Column(length: self::LABEL_LENGTH)]
        public string $label,
        #[ORM\Column(type: 'instant')]
        public Instant $at,
    ) {
        $this->endpointHash = hash('sha256', $endpoint);
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The browser is not saved yet');
    }
}

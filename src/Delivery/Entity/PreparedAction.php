<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Entity;

use Doctrine\ORM\Mapping as ORM;
use Olivine\App\Delivery\Channel\SignedReceiver;
use Olivine\App\Delivery\Repository\ActionRepository;
use Olivine\App\People\Role;

/** What somebody may do about an alert at the press of a button: another program is asked to, or an agent runs a command that it allows. */
#[ORM\Entity(repositoryClass: ActionRepository::class)]
#[ORM\Table(name: 'action')]
class PreparedAction implements SignedReceiver
{
    use SpokenToSigned;

    public const NAME_LENGTH = 80;
    public const COMMAND_LENGTH = 80;
    public const WORDS_LENGTH = 300;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    public ?int $id = null;

    /** Counts the changes; an editor that saves must have read this one. */
    #[ORM\Version, ORM\Column(type: 'integer')]
    public int $version = 1;

    /**
     * @param string $matching a filter: of which alerts and targets it may be done
     * @param string $words    what it does, as whoever presses is asked once more
     * @param string $url      where it is asked for
     * @param string $command  of an agent: the one of those that it allows; "": of another program
     * @param string $secret   what is sent is signed with, sealed
     * @param Role   $role     who may do it at least
     */
    public function __construct(
        #[ORM\Column(length: self::NAME_LENGTH, unique: true)]
        public string $name,
        #[ORM\Column(length: 2_000)]
        public string $matching,
        #[ORM\Column(length: self::WORDS_LENGTH)]
        public string $words,
        #[ORM\Column(length: 2_000)]
        public string $url,
        #[ORM\Column(length: self::COMMAND_LENGTH)]
        public string $command,
        #[ORM\Column(type: 'text')]
        public string $secret,
        #[ORM\Column(length: 16, enumType: Role::class)]
        public Role $role,
    ) {
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The action is not saved yet');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\Platform\Problem;

/** A target is told from all others by its name; one that was removed lets go of it. */
final readonly class TargetNames
{
    public function __construct(private EntityManagerInterface $entities, private TargetRepository $targets)
    {
    }

    /** @throws Problem naming the field and what it must be */
    public static function wellFormed(string $name): string
    {
        return preg_match(Target::NAME, $name) === 1
            ? $name
            : throw Problem::field('name', 'name must begin with a letter or digit; then letters, digits, spaces and . _ : / - may follow');
    }

    /** @throws Problem naming the field and what it must be */
    public function take(Target $target, string $name): void
    {
        $same = $this->targets->named(self::wellFormed($name));
        if ($same !== null && $same->id !== $target->id) {
            $same->removedAt !== null || throw Problem::field('name', "There is a target named {$name} already");
            $same->name = mb_substr("{$name} (removed {$same->id})", 0, Target::NAME_LENGTH);
            $this->entities->flush();
        }
    }
}

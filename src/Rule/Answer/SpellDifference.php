<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\Core\Rule\ComparedSpell;
use Olivine\Core\Rule\SpellChange;

/** One alert that the rule in service and the one that is replayed do not raise alike. */
final readonly class SpellDifference
{
    /**
     * @param Spell|null $was by the rule in service
     * @param Spell|null $is  by the one that is replayed
     */
    public function __construct(public SpellChange $change, public ?Spell $is, public ?Spell $was)
    {
    }

    public static function of(ComparedSpell $compared): self
    {
        return new self(
            $compared->change,
            $compared->is === null ? null : Spell::of($compared->is),
            $compared->was === null ? null : Spell::of($compared->was),
        );
    }
}

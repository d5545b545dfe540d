<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Problem;
use Olivine\Core\Delivery\Listener;
use Olivine\Core\Delivery\Who;

/** Whom a rung or a copy means. */
final readonly class WhoDefinition
{
    /** @param string $name the address of a person, the name of a team, a role or a roster; empty: the first roster */
    public function __construct(
        public Listener $listener,
        #[Line(180)]
        public string $name = '',
    ) {
    }

    /** @throws Problem naming the field */
    public function core(): Who
    {
        $needsName = in_array($this->listener, [Listener::Person, Listener::Team, Listener::Role], true);
        $hasNoName = $this->listener === Listener::Owner;
        if (($needsName && $this->name === '') || ($hasNoName && $this->name !== '')) {
            throw Problem::field('who', $needsName ? "who: which {$this->listener->value}?" : "who: {$this->listener->value} has no name of its own");
        }

        return Who::of($this->listener, $this->name);
    }
}

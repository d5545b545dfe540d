<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\ListOf;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\App\Platform\Problem;
use Olivine\Core\Delivery\EndsWith;
use Olivine\Core\Delivery\Ladder;
use Olivine\Core\Delivery\LadderStep;

/** Whom an incident reaches, rung by rung. */
final readonly class LadderDefinition implements NamedDefinition
{
    /**
     * @param list<RungDefinition> $rungs
     * @param int                  $times it is climbed, one after the other
     */
    public function __construct(
        #[Line(80, 1)]
        public string $name,
        #[ListOf(RungDefinition::class, 1, 20)]
        public array $rungs,
        #[Whole(1, 20)]
        public int $times = 1,
        public EndsWith $until = EndsWith::Acknowledged,
    ) {
    }

    public function name(): string
    {
        return $this->name;
    }

    /** @throws Problem naming the field */
    public function core(): Ladder
    {
        $steps = array_map(static fn(RungDefinition $rung): LadderStep => $rung->core(), $this->rungs);
        $againAt = $this->rungs[count($this->rungs) - 1]->afterSeconds ?? 0;
        if ($this->times > 1 && $againAt === 0) {
            throw Problem::field('times', 'times: say after the last rung how long until the ladder begins again');
        }

        return new Ladder($steps === [] ? throw Problem::field('rungs', 'rungs are missing') : $steps, $this->times, $this->until);
    }
}

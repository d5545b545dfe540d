<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\App\Platform\Definition\Field\ListOf;
use Olivine\App\Platform\Definition\Field\Number;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Condition\Change;
use Olivine\Core\Rule\Way;
use Olivine\Core\Time\Duration;

/** A value against itself some time ago. */
final readonly class ChangeFields implements ConditionFields
{
    public string $kind;

    /**
     * @param list<LimitFields> $limits by how much it changes: amounts, or shares of what it was
     * @param float             $clear  at or under it all is well
     */
    public function __construct(
        public Way $way,
        public Measure $measure,
        #[ListOf(LimitFields::class, 1, 4)]
        public array $limits,
        #[Number]
        public float $clear,
        #[Whole(1, 35 * 86_400)]
        public int $agoSeconds = 3_600,
    ) {
        $this->kind = 'change';
    }

    public function core(): Condition
    {
        return new Change(
            $this->way,
            LimitFields::above($this->limits, $this->clear),
            Duration::ofSeconds($this->agoSeconds),
            $this->measure === Measure::Share,
        );
    }
}

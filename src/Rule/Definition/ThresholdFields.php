<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\App\Platform\Definition\Field\ListOf;
use Olivine\App\Platform\Definition\Field\Number;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Rule\Counting;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Side;

/** A value against limits: `{"kind": "threshold", "side": "above", "limits": [{"severity": "major", "limit": 400}], "clear": 300}`. */
final readonly class ThresholdFields implements ConditionFields
{
    public string $kind;

    /**
     * @param list<LimitFields> $limits
     * @param float             $clear   at or behind it all is well; of a range its lower end
     * @param float|null        $clearTo of a range its upper end
     * @param int|null          $need    so many of the last looks must be past the limit; null: every one
     * @param int|null          $of      of how many
     */
    public function __construct(
        public Side $side,
        #[ListOf(LimitFields::class, 1, 4)]
        public array $limits,
        #[Number]
        public float $clear,
        #[Number]
        public ?float $clearTo = null,
        #[Whole(1, 240)]
        public ?int $need = null,
        #[Whole(1, 240)]
        public ?int $of = null,
    ) {
        $this->kind = 'threshold';
    }

    public function core(): Condition
    {
        return new Threshold(
            new Limits(
                $this->side,
                LimitFields::levels($this->limits),
                $this->clear,
                $this->clearTo ?? INF,
            ),
            $this->counting(),
        );
    }

    /** @throws BadRule naming the field that cannot be so */
    private function counting(): ?Counting
    {
        if (($this->need === null) !== ($this->of === null)) {
            throw new BadRule('need', 'goes together with of, such as 3 of 5: give both or neither');
        }

        return $this->need === null || $this->of === null ? null : new Counting($this->need, $this->of);
    }
}

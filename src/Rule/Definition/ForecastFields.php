<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\App\Platform\Definition\Field\ListOf;
use Olivine\App\Platform\Definition\Field\Number;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Condition\Forecast;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Side;
use Olivine\Core\Time\Duration;

/** A limit that will be reached within a time. */
final readonly class ForecastFields implements ConditionFields
{
    public string $kind;

    /**
     * @param list<LimitFields> $limits
     * @param float             $clear  foreseen at or behind it, all is well
     */
    public function __construct(
        public Side $side,
        #[ListOf(LimitFields::class, 1, 4)]
        public array $limits,
        #[Number]
        public float $clear,
        #[Whole(300, 14 * 86_400)]
        public int $withinSeconds = 86_400,
    ) {
        $this->kind = 'forecast';
    }

    public function core(): Condition
    {
        return new Forecast(
            new Limits($this->side, LimitFields::levels($this->limits), $this->clear),
            Duration::ofSeconds($this->withinSeconds),
        );
    }
}

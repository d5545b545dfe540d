<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\App\Platform\Definition\Field\Number;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Level;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;

/** From which limit on an alert is how grave. */
final readonly class LimitFields
{
    /** @param float|null $to the upper end, where the limit is a range */
    public function __construct(
        public Severity $severity,
        #[Number]
        public float $limit,
        #[Number]
        public ?float $to = null,
    ) {
    }

    /**
     * @param list<self> $limits
     *
     * @return list<Level>
     */
    public static function levels(array $limits): array
    {
        return array_map(static fn(self $one): Level => new Level($one->severity, $one->limit, $one->to ?? INF), $limits);
    }

    /**
     * Of amounts and distances, which are too much where they are above.
     *
     * @param list<self> $limits
     *
     * @throws BadRule naming the field that cannot be so
     */
    public static function above(array $limits, float $clear): Limits
    {
        return new Limits(Side::Above, self::levels($limits), $clear);
    }
}

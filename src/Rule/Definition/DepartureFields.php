<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\App\Platform\Definition\Field\ListOf;
use Olivine\App\Platform\Definition\Field\Names;
use Olivine\App\Platform\Definition\Field\Number;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Baseline;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Condition\Departure;
use Olivine\Core\Rule\Way;
use Olivine\Core\Time\Duration;

/** A value far from what is usual, by its own past or among its twins. */
final readonly class DepartureFields implements ConditionFields
{
    public string $kind;

    /**
     * @param list<LimitFields> $limits        so many times what it usually is away
     * @param float             $clear         at or under it all is well
     * @param float             $least         change that matters, in the unit of what is watched
     * @param int               $spanSeconds   of its past
     * @param int               $warmUpSeconds of its past that must be known
     * @param list<string>      $per           labels that twins share
     */
    public function __construct(
        public UsualOf $from,
        public Way $way,
        #[ListOf(LimitFields::class, 1, 4)]
        public array $limits,
        #[Number]
        public float $clear,
        #[Number]
        public float $least = 0.0,
        #[Whole(3_600, 35 * 86_400)]
        public int $spanSeconds = 1_209_600,
        #[Whole(0, 35 * 86_400)]
        public int $warmUpSeconds = 86_400,
        #[Names(100)]
        public array $per = [],
    ) {
        $this->kind = 'departure';
    }

    public function core(): Condition
    {
        return new Departure($this->baseline(), $this->way, LimitFields::above($this->limits, $this->clear), $this->least);
    }

    /** @throws BadRule naming the field that cannot be so */
    private function baseline(): Baseline
    {
        $method = $this->from->method();

        return $method === null
            ? Baseline::ofTwins($this->per)
            : Baseline::ofPast($method, Duration::ofSeconds($this->spanSeconds), Duration::ofSeconds($this->warmUpSeconds));
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\WorkTime;
use Olivine\App\Store\HotReadings;
use Olivine\App\Store\LateReadings;
use Olivine\App\Store\SeriesIndex;
use Olivine\App\Store\StoredReadings;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\PastsAtHand;
use Olivine\Core\Formula\ReadingSource;
use Olivine\Core\Rule\AllThatIsThere;
use Olivine\Core\Rule\AsItWas;
use Olivine\Core\Rule\RuleEngine;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** Makes the engine of the rules over the store. */
final readonly class RuleEngines
{
    public function __construct(
        private StoredReadings $readings,
        private SeriesIndex $index,
        private LateReadings $late,
        private StoredRests $rests,
        private WorkTime $time,
        #[Autowire(service: 'olivine.zone')]
        private \Closure $zone,
        #[Autowire(service: 'olivine.holidays')]
        private \Closure $holidays,
    ) {
    }

    /** Over readings of another kind, with the clocks and the holidays of this site. */
    public function over(ReadingSource $readings): RuleEngine
    {
        $evaluator = new Evaluator($readings, zone: $this->zone, patience: $this->time, holidays: $this->holidays);

        return new RuleEngine(new AllThatIsThere($evaluator), patience: $this->time);
    }

    /** It sees what had arrived when rules looked. */
    public function asItWas(): RuleEngine
    {
        $evaluator = fn(ReadingSource $source, ?PastsAtHand $pasts): Evaluator => new Evaluator(
            $source,
            zone: $this->zone,
            patience: $this->time,
            pasts: $pasts,
            holidays: $this->holidays,
        );

        return new RuleEngine(new AsItWas(new HotReadings($this->readings, $this->index), $this->late, $evaluator), $this->rests, $this->time);
    }
}

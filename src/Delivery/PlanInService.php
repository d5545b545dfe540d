<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Definition\PlanDefinition;
use Olivine\App\Delivery\Repository\PlanRevisionRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\SetAside;
use Olivine\App\Platform\Settings;

/** What is set up of who hears, as it is in service: what a revision says never changes, so it is read once for each zone and holidays of the site. */
final class PlanInService
{
    private ?WorkingPlan $known = null;
    /** Its number, and the clocks and holidays of the site by which it works. */
    private string $readAs = '';

    public function __construct(
        private readonly PlanRevisionRepository $revisions,
        private readonly Plans $plans,
        private readonly Settings $settings,
        private readonly SetAside $aside,
        private readonly Clock $clock = new Clock(),
    ) {
    }

    public function plan(): WorkingPlan
    {
        $number = $this->revisions->newestNumber();
        $readAs = implode(' ', [$number, $this->settings->zone()->getName(), ...$this->settings->holidays()]);
        if ($this->known === null || $this->readAs !== $readAs || $number === 0) {
            $this->known = $this->read($number);
            $this->readAs = $readAs;
        }

        return $this->known;
    }

    /**
     * As it would work.
     *
     * @throws Problem naming the field
     */
    public function working(PlanDefinition $plan, int $number): WorkingPlan
    {
        $zone = $this->settings->zone();
        $holidays = $this->settings->holidays();

        return new WorkingPlan($plan, $number, Plans::paths($plan, $zone, $holidays), Plans::copies($plan, $zone, $holidays));
    }

    private function first(): WorkingPlan
    {
        try {
            return $this->working(FirstPlan::of($this->settings), 0);
        } catch (Problem $problem) {
            throw new \LogicException("What is installed cannot be so: {$problem->getMessage()}", 0, $problem);
        }
    }

    /** What cannot be read any more is set aside, and whoever is on call hears all the same. */
    private function read(int $number): WorkingPlan
    {
        if ($number > 0) {
            try {
                return $this->working($this->plans->read($this->revisions->numbered($number)->definition), $number);
            } catch (Problem $problem) {
                $this->aside->put('dispatcher', "revision {$number} of delivery", $problem->getMessage(), $this->clock->now());
            }
        }

        return $this->first();
    }
}

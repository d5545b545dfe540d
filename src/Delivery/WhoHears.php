<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Channel\MailChannel;
use Olivine\App\Delivery\Push\PushChannel;
use Olivine\App\Delivery\Repository\KeptChannelRepository;
use Olivine\App\Roster\KeptRosters;
use Olivine\Core\Delivery\Configuration;

/** What is set up of who hears of what, as it is now. */
final readonly class WhoHears
{
    public function __construct(
        private PlanInService $plan,
        private KeptRosters $rosters,
        private KeptChannelRepository $channels,
        private Hearers $hearers,
        private KeptMutes $mutes,
    ) {
    }

    public function now(): Configuration
    {
        return $this->by($this->plan->plan());
    }

    /** By a plan that is not in service, else as all is now. */
    public function by(WorkingPlan $plan): Configuration
    {
        $isStandingIn = $this->channels->standingIn();
        $standingIn = array_keys($isStandingIn, true, true);

        return new Configuration(
            $plan->paths,
            $this->rosters->rosters(),
            $this->hearers->now($plan->definition->teams),
            ways: [MailChannel::NAME, ...$standingIn],
            others: [PushChannel::NAME, ...array_values(array_diff(array_keys($isStandingIn), $standingIn))],
            copies: $plan->copies,
            revision: $plan->number,
            mutes: $this->mutes->now(),
        );
    }

    /** For what is found in the past: nobody is told. */
    public function lookingBack(): Configuration
    {
        $plan = $this->plan->plan();

        return new Configuration($plan->paths, looksBack: true, revision: $plan->number);
    }
}

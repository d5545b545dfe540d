<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Channel\MailChannel;
use Olivine\App\Delivery\Repository\WebhookRepository;
use Olivine\App\Roster\KeptRosters;
use Olivine\Core\Delivery\Configuration;

/** What is set up of who hears of what, as it is now. */
final readonly class WhoHears
{
    public function __construct(
        private PlanInService $plan,
        private KeptRosters $rosters,
        private WebhookRepository $webhooks,
        private Hearers $hearers,
    ) {
    }

    public function now(): Configuration
    {
        return $this->by($this->plan->plan());
    }

    /** By a plan that is not in service, else as all is now. */
    public function by(WorkingPlan $plan): Configuration
    {
        $standingIn = $this->webhooks->standingIn();

        return new Configuration(
            $plan->paths,
            $this->rosters->rosters(),
            $this->hearers->now($plan->definition->teams),
            ways: [MailChannel::NAME, ...$standingIn],
            others: array_values(array_diff(array_keys($this->webhooks->versions()), $standingIn)),
            copies: $plan->copies,
            revision: $plan->number,
        );
    }

    /** For what is found in the past: nobody is told. */
    public function lookingBack(): Configuration
    {
        $plan = $this->plan->plan();

        return new Configuration($plan->paths, looksBack: true, revision: $plan->number);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Channel\MailChannel;
use Olivine\App\Delivery\Repository\WebhookRepository;
use Olivine\App\Platform\Settings;
use Olivine\App\Roster\Rota;
use Olivine\Core\Delivery\Configuration;

/** What is set up of who hears of what, as it is now. */
final readonly class WhoHears
{
    public function __construct(private Settings $settings, private Rota $rota, private WebhookRepository $webhooks)
    {
    }

    public function now(): Configuration
    {
        return new Configuration($this->settings->ladder(), $this->rota->rotation(), ways: [MailChannel::NAME, ...$this->webhooks->standingIn()]);
    }

    /** For what is found in the past: nobody is told. */
    public function lookingBack(): Configuration
    {
        return new Configuration($this->settings->ladder(), null, true);
    }
}

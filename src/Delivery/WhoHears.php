<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Channel\MailChannel;
use Olivine\App\Delivery\Repository\WebhookRepository;
use Olivine\App\Platform\Settings;
use Olivine\App\Roster\Rota;
use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Delivery\Path;

/** What is set up of who hears of what, as it is now. */
final readonly class WhoHears
{
    public const EVERYTHING_ELSE = 'everything else';

    public function __construct(private Settings $settings, private Rota $rota, private WebhookRepository $webhooks)
    {
    }

    public function now(): Configuration
    {
        return new Configuration($this->paths(), $this->rota->rotation(), ways: [MailChannel::NAME, ...$this->webhooks->standingIn()]);
    }

    /** For what is found in the past: nobody is told. */
    public function lookingBack(): Configuration
    {
        return new Configuration($this->paths(), null, looksBack: true);
    }

    /** @return non-empty-list<Path> one that answers for everything: by service, up the ladder of the rota */
    private function paths(): array
    {
        return [new Path(self::EVERYTHING_ELSE, null, null, ['service'], $this->settings->gather(), $this->settings->ladder())];
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\Delivery\Repository\KeptChannelRepository;
use Olivine\App\People\Entity\Person;
use Olivine\Core\Time\Instant;

/** Other programs, told by a signed event. */
final class WebhookChannel extends OutsideChannel
{
    private const TYPE = 'application/cloudevents+json';

    public function __construct(KeptChannelRepository $channels, Handover $handover, private readonly WebhookEvents $events)
    {
        parent::__construct($channels, $handover);
    }

    protected function kind(): ChannelKind
    {
        return ChannelKind::Webhook;
    }

    public function carries(): Carrying
    {
        return new Carrying(false, '');
    }

    public function addressOf(string $way, ?Person $person): string
    {
        return "webhook {$way}" . ($person === null ? '' : " for {$person->name}");
    }

    public function send(string $way, Notice $notice, ?Person $person): Receipt
    {
        return $this->handedOver($way, $this->events->of($notice, $person));
    }

    public function sendTogether(string $way, array $notices, ?Person $person): Receipt
    {
        return $this->handedOver($way, $this->events->together($notices, $person));
    }

    public function test(string $way, Person $person, Instant $at): Receipt
    {
        return $this->handedOver($way, $this->events->test($person, $at));
    }

    /** @throws NotHandedOver */
    private function handedOver(string $way, string $body): Receipt
    {
        return $this->handover->post($this->channel($way), $body, self::TYPE)->receipt();
    }
}

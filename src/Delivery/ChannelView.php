<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\AwayChannel;
use Olivine\App\Delivery\Answer\ChannelState;
use Olivine\App\Delivery\Answer\FailedMessage;
use Olivine\App\Delivery\Answer\ShownChannels;
use Olivine\App\Delivery\Channel\Channel;
use Olivine\App\Delivery\Channel\Channels;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\Delivery\Repository\WebhookRepository;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\Scalar;
use Olivine\App\Platform\Settings;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** The ways to reach people as their page shows them: what each did of late, what waits, and what was given up. */
final readonly class ChannelView
{
    private const FAILED_DAYS = 7;
    private const MOST_FAILED = 50;

    public function __construct(
        private Channels $channels,
        private AwayChannels $away,
        private DeliveryRepository $deliveries,
        private IncidentRepository $incidents,
        private WebhookRepository $webhooks,
        private PersonRepository $people,
        private WhoHears $who,
        private Settings $settings,
        private Clock $clock = new Clock(),
    ) {
    }

    public function all(): ShownChannels
    {
        $states = [];
        $away = $this->away->now();
        $since = $this->clock->now()->minus(Duration::ofDays(1));
        foreach ($this->channels->all() as $channel) {
            foreach ($channel->ways() as $way) {
                $states[] = $this->state($channel, $way, $away[$way] ?? null, $since);
            }
        }
        $order = array_flip($this->who->now()->ways);
        usort($states, static fn(ChannelState $a, ChannelState $b): int => [$order[$a->name] ?? 99, $a->name] <=> [$order[$b->name] ?? 99, $b->name]);

        return new ShownChannels($states, $this->failed());
    }

    private function state(Channel $channel, string $way, ?AwayChannel $away, Instant $since): ChannelState
    {
        return new ChannelState(
            name: $way,
            kind: $channel->part() === PartName::Mail ? 'e-mail' : 'webhook',
            where: $this->where($channel, $way),
            answered: $channel->carries()->answered,
            standsIn: in_array($way, $this->who->now()->ways, true),
            waiting: $this->deliveries->waitingFor($way, $this->clock->now()),
            failingSince: $away?->since,
            reason: $away->reason ?? '',
            refusesSome: $away->isThere ?? false,
            sentLastDay: $this->deliveries->sentSince($way, $since),
            medianMs: $this->deliveries->medianSince($way, $since)?->ms,
        );
    }

    /** Where it leads to, without what may be a secret in its address. */
    private function where(Channel $channel, string $way): string
    {
        if ($channel->part() === PartName::Mail) {
            $host = parse_url($this->settings->mailDsn(), PHP_URL_HOST);

            return is_string($host) ? "by {$host}" : 'no mail server is set';
        }
        $webhook = $this->webhooks->named($way);

        return $webhook === null ? '' : 'to ' . Scalar::text(parse_url($webhook->url, PHP_URL_HOST));
    }

    /** @return list<FailedMessage> newest first */
    private function failed(): array
    {
        $names = $this->people->names();
        $failed = [];
        foreach ($this->deliveries->failedSince($this->clock->now()->minus(Duration::ofDays(self::FAILED_DAYS)), self::MOST_FAILED) as $one) {
            $failed[] = new FailedMessage(
                id: $one->id(),
                incident: $one->incidentId,
                title: (string) $this->incidents->find($one->incidentId)?->title,
                person: $names[$one->personId] ?? '',
                channel: $one->channel,
                of: Outcomes::label($one),
                dueAt: $one->dueAt,
                reason: $one->answer,
            );
        }

        return $failed;
    }
}

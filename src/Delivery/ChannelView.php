<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\AwayChannel;
use Olivine\App\Delivery\Answer\ChannelState;
use Olivine\App\Delivery\Answer\FailedMessage;
use Olivine\App\Delivery\Answer\ShownChannels;
use Olivine\App\Delivery\Channel\Channel;
use Olivine\App\Delivery\Channel\Channels;
use Olivine\App\Delivery\Channel\MailChannel;
use Olivine\App\Delivery\Push\PushChannel;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\Delivery\Repository\KeptChannelRepository;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
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
        private KeptChannelRepository $kept,
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
            kind: $this->kept->named($way)?->kind->value ?? ($way === PushChannel::NAME ? PushChannel::NAME : MailChannel::NAME),
            where: $this->where($way),
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
    private function where(string $way): string
    {
        if ($way === PushChannel::NAME) {
            return 'to browsers that their owners let be told';
        }
        $kept = $this->kept->named($way);
        $host = parse_url($kept === null ? $this->settings->mailDsn() : $kept->url, PHP_URL_HOST);

        return match (true) {
            !is_string($host) => $kept === null ? 'no mail server is set' : '',
            $kept === null, $kept->kind->isByNumber() => "by {$host}",
            $kept->room !== '' => "in {$kept->room} at {$host}",
            default => "to {$host}",
        };
    }

    /** @return list<FailedMessage> newest first */
    private function failed(): array
    {
        $names = $this->people->names();
        $failed = [];
        foreach ($this->deliveries->failedSince($this->clock->now()->minus(Duration::ofDays(self::FAILED_DAYS)), self::MOST_FAILED) as $one) {
            $incident = $this->incidents->find($one->incidentId);
            if ($incident === null) {
                // An incident that is past what is kept takes what was told of it along.
                continue;
            }
            $failed[] = new FailedMessage(
                id: $one->id(),
                incident: $one->incidentId,
                title: $incident->title,
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

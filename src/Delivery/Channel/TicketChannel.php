<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\KeptChannel;
use Olivine\App\Delivery\Entity\Ticket;
use Olivine\App\Delivery\MessageText;
use Olivine\App\Delivery\Repository\KeptChannelRepository;
use Olivine\App\Delivery\Repository\TicketRepository;
use Olivine\App\Delivery\Template\Wordings;
use Olivine\App\Delivery\Template\Words;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * A desk that keeps tickets: the first message of an incident opens one, whatever comes after is a comment on it, and its end closes
 * it. Who owns it over there, and how it stands, is read back.
 */
final class TicketChannel extends OutsideChannel
{
    private const LOOK_AGAIN_SECONDS = 60;
    /** One request at a time is done before the queue could be another's. */
    private const LOOKED_AT_ONCE = 1;

    public function __construct(
        KeptChannelRepository $channels,
        Handover $handover,
        private readonly TicketRepository $tickets,
        private readonly EntityManagerInterface $entities,
        private readonly MessageText $text,
        private readonly Wordings $wordings,
        private readonly Clock $now = new Clock(),
    ) {
        parent::__construct($channels, $handover);
    }

    protected function kind(): ChannelKind
    {
        return ChannelKind::Ticket;
    }

    public function carries(): Carrying
    {
        // Each incident has a ticket of its own, so each message is a request of its own, within its time.
        return new Carrying(false, '', together: false);
    }

    public function addressOf(string $way, ?Person $person): string
    {
        return "ticket at {$way}" . ($person === null ? '' : " for {$person->name}");
    }

    public function send(string $way, Notice $notice, ?Person $person): Receipt
    {
        $channel = $this->channel($way);
        $ticket = $this->tickets->at($way, $notice->incident->id());
        $words = $this->wordings->of($way, $notice, $person, $this->text->shipped(ChannelKind::Ticket, $notice));
        if ($ticket === null && $notice->isOfTheEnd()) {
            return new Receipt('there is no ticket of it to close');
        }
        if ($ticket === null) {
            return $this->opened($channel, $notice, $person, $words);
        }
        $state = $notice->isOfTheEnd() ? ['state' => 'done'] : [];
        $body = ['id' => $notice->key, 'text' => "{$words->subject}\n\n{$words->text}"] + $state;
        $answer = $this->handover->post($channel, JsonBody::of($body), path: '/' . rawurlencode($ticket->key) . '/comments');
        $ticket->stands($answer->said(), $this->now->now());
        $this->entities->flush();

        return new Receipt("{$ticket->key}, {$answer->receipt()->answer}");
    }

    public function sendTogether(string $way, array $notices, ?Person $person): Receipt
    {
        throw new \LogicException('Tickets are told one by one');
    }

    public function test(string $way, Person $person, Instant $at): Receipt
    {
        $channel = $this->channel($way);
        $body = [
            'id' => 'test-' . bin2hex(random_bytes(8)),
            'desk' => $channel->room,
            'test' => true,
            'title' => "{$person->name} tests this desk",
            'text' => '',
        ];

        return $this->handover->post($channel, JsonBody::of($body))->receipt();
    }

    /** While nothing is to be said, it is looked at how those stand that are open. */
    public function rest(): void
    {
        $now = $this->now->now();
        foreach ($this->tickets->stale($now->minus(Duration::ofSeconds(self::LOOK_AGAIN_SECONDS)), self::LOOKED_AT_ONCE) as $ticket) {
            try {
                $said = $this->handover->get($this->channel($ticket->channel), '/' . rawurlencode($ticket->key))->said();
            } catch (NotHandedOver) {
                $said = [];
            }
            $ticket->stands($said, $now);
        }
        $this->entities->flush();
    }

    /** @throws NotHandedOver */
    private function opened(KeptChannel $channel, Notice $notice, ?Person $person, Words $words): Receipt
    {
        $incident = $notice->incident;
        $body = [
            // The desk knows a repeat by it, and answers with the key that it gave then.
            'id' => "incident-{$incident->id()}",
            'desk' => $channel->room,
            'title' => $words->subject,
            'text' => $words->text,
            'severity' => $incident->severity->value,
            'service' => $incident->service,
        ] + ($person === null ? [] : ['for' => $person->email]);
        $said = $this->handover->post($channel, JsonBody::of($body))->said();
        $key = $said['key'] ?? null;
        if ((!is_string($key) && !is_int($key)) || $key === '' || mb_strlen((string) $key) > Ticket::KEY_LENGTH) {
            throw NotHandedOver::refused('the desk took it, and did not say by which key it calls the ticket');
        }
        $ticket = new Ticket($channel->name, $incident->id(), Scalar::text($key), $this->now->now());
        $ticket->stands($said, $this->now->now());
        $this->entities->persist($ticket);
        $this->entities->flush();

        return new Receipt("opened {$ticket->key}");
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\Delivery\Definition\ContactKind;
use Olivine\App\Delivery\MessageText;
use Olivine\App\Delivery\Repository\ContactMethodRepository;
use Olivine\App\Delivery\Repository\KeptChannelRepository;
use Olivine\App\Delivery\Template\Wordings;
use Olivine\App\People\Entity\Person;
use Olivine\Core\Delivery\AnswerKind;
use Olivine\Core\Time\Instant;

/** Said in a room, one thread an incident, with buttons that answer; whoever it is for is called by the name that they verified. */
final class ChatChannel extends OutsideChannel implements CarriesLetters
{
    private const BUTTONS = [
        ['words' => 'Acknowledge', 'button' => AnswerKind::Acknowledge],
        ['words' => 'Take it', 'button' => AnswerKind::Take],
        ['words' => 'I cannot', 'button' => AnswerKind::Cannot],
    ];

    public function __construct(
        KeptChannelRepository $channels,
        Handover $handover,
        private readonly ContactMethodRepository $contacts,
        private readonly MessageText $text,
        private readonly Wordings $wordings,
    ) {
        parent::__construct($channels, $handover);
    }

    protected function kind(): ChannelKind
    {
        return ChannelKind::Chat;
    }

    public function carries(): Carrying
    {
        return new Carrying(false, 'by a button');
    }

    public function addressOf(string $way, ?Person $person): string
    {
        return "chat {$way}" . ($person === null ? '' : " for {$person->name}");
    }

    public function send(string $way, Notice $notice, ?Person $person): Receipt
    {
        $words = $this->wordings->of($way, $notice, $person, $this->text->shipped(ChannelKind::Chat, $notice));

        return $this->said($way, $person, [
            'id' => $notice->key,
            'thread' => "incident-{$notice->incident->id()}",
            'severity' => $notice->isOfTheEnd() ? 'cleared' : $notice->incident->severity->value,
            'title' => $words->subject,
            'text' => $words->text,
            'buttons' => $notice->isOfTheEnd() ? [] : self::BUTTONS,
        ]);
    }

    public function sendTogether(string $way, array $notices, ?Person $person): Receipt
    {
        return $this->said($way, $person, [
            'id' => $notices[0]->key,
            'thread' => '',
            'severity' => '',
            'title' => $this->text->subjectTogether($notices),
            'text' => $this->text->bodyTogether('txt', $notices),
            'buttons' => [],
        ]);
    }

    public function test(string $way, Person $person, Instant $at): Receipt
    {
        $words = "{$person->name} asked whether Olivine reaches this room.";

        return $this->said($way, null, ['id' => 'test-' . bin2hex(random_bytes(8)), 'title' => 'A test from Olivine', 'text' => $words, 'buttons' => []]);
    }

    public function letter(string $way, Person $person, string $address, string $subject, string $text, string $key): Receipt
    {
        return $this->said($way, null, ['id' => $key, 'to' => $address, 'title' => $subject, 'text' => $text, 'buttons' => []]);
    }

    /**
     * @param array<string, mixed> $message
     *
     * @throws NotHandedOver
     */
    private function said(string $way, ?Person $person, array $message): Receipt
    {
        $channel = $this->channel($way);
        $name = $person === null ? null : $this->contacts->verifiedOf($person->id(), ContactKind::Chat->value)?->address;
        $for = $person === null ? [] : ['for' => $name ?? $person->name];

        return $this->handover->post($channel, JsonBody::of(['room' => $channel->room] + $message + $for))->receipt();
    }
}

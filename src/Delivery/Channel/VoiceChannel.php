<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\Delivery\Definition\ContactKind;
use Olivine\App\Delivery\MessageText;
use Olivine\App\Delivery\Repository\ContactMethodRepository;
use Olivine\App\Delivery\Repository\KeptChannelRepository;
use Olivine\App\Delivery\Template\Wordings;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\OneLine;
use Olivine\Core\Delivery\AnswerKind;
use Olivine\Core\Time\Instant;

/** Calls through a gateway, to the number that the person verified: it reads the words, and a key answers. */
final class VoiceChannel extends OutsideChannel
{
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
        return ChannelKind::Voice;
    }

    public function carries(): Carrying
    {
        return new Carrying(false, 'by a key');
    }

    public function addressOf(string $way, ?Person $person): string
    {
        $number = $person === null ? null : $this->contacts->verifiedOf($person->id(), ContactKind::Phone->value)?->address;

        return "call by {$way} to " . ($person === null ? 'nobody' : "{$person->name} <" . ($number ?? 'no number') . '>');
    }

    public function send(string $way, Notice $notice, ?Person $person): Receipt
    {
        $words = $this->wordings->of($way, $notice, $person, $this->text->shipped(ChannelKind::Voice, $notice));

        return $this->called($way, $person, OneLine::of($words->text), $notice->key, $notice->isAnswered());
    }

    public function sendTogether(string $way, array $notices, ?Person $person): Receipt
    {
        return $this->called($way, $person, $this->text->shortTogether($notices), $notices[0]->key, false);
    }

    public function test(string $way, Person $person, Instant $at): Receipt
    {
        return $this->called($way, $person, "This is a test. Olivine can call you, {$person->name}.", 'test-' . bin2hex(random_bytes(8)), false);
    }

    /** @throws NotHandedOver */
    private function called(string $way, ?Person $person, string $text, string $key, bool $isAnswered): Receipt
    {
        $person ?? throw NotHandedOver::refused('a call goes to somebody; name whom the copy is for');
        $number = $this->contacts->verifiedOf($person->id(), ContactKind::Phone->value)->address
            ?? throw NotHandedOver::refused("{$person->name} has no verified number");
        $channel = $this->channel($way);
        $keys = $isAnswered ? self::keys() : [];
        $body = ['id' => $key, 'to' => $number, 'from' => $channel->room, 'say' => $text, 'keys' => (object) $keys];

        return $this->handover->post($channel, JsonBody::of($body))->receipt();
    }

    /** @return array<string, string> key → what it says */
    private static function keys(): array
    {
        return [
            AnswerKind::Acknowledge->key() => 'acknowledge',
            AnswerKind::Take->key() => 'take it',
            AnswerKind::Cannot->key() => 'you cannot',
        ];
    }
}

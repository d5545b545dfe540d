<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\Delivery\AnswerCodes;
use Olivine\App\Delivery\Definition\ContactKind;
use Olivine\App\Delivery\MessageText;
use Olivine\App\Delivery\Repository\ContactMethodRepository;
use Olivine\App\Delivery\Repository\KeptChannelRepository;
use Olivine\App\Delivery\Template\Wordings;
use Olivine\App\People\Entity\Person;
use Olivine\Core\Delivery\Reply;
use Olivine\Core\Delivery\ShortMessage;
use Olivine\Core\Time\Instant;

/** Short messages through a gateway, to the number that the person verified; answered by a word. */
final class SmsChannel extends OutsideChannel implements CarriesLetters
{
    private const MOST_PARTS = 2;

    public function __construct(
        KeptChannelRepository $channels,
        Handover $handover,
        private readonly ContactMethodRepository $contacts,
        private readonly AnswerCodes $codes,
        private readonly MessageText $text,
        private readonly Wordings $wordings,
    ) {
        parent::__construct($channels, $handover);
    }

    protected function kind(): ChannelKind
    {
        return ChannelKind::Sms;
    }

    public function carries(): Carrying
    {
        return new Carrying(false, 'by a word: ok, take, no');
    }

    public function addressOf(string $way, ?Person $person): string
    {
        $number = $person === null ? null : $this->contacts->verifiedOf($person->id(), ContactKind::Phone->value)?->address;

        return "SMS by {$way} to " . ($person === null ? 'nobody' : "{$person->name} <" . ($number ?? 'no number') . '>');
    }

    public function send(string $way, Notice $notice, ?Person $person): Receipt
    {
        $person ?? throw NotHandedOver::refused('an SMS goes to somebody; name whom the copy is for');
        $code = $notice->isAnswered() ? $this->codes->of($notice->incident->id(), $person->id(), $notice->at) : null;

        $words = $this->wordings->of($way, $notice, $person, $this->text->shipped(ChannelKind::Sms, $notice));

        return $this->handedOver($way, $this->number($person), $words->text, $code === null ? '' : ' ' . Reply::words($code), $notice->key);
    }

    public function sendTogether(string $way, array $notices, ?Person $person): Receipt
    {
        $person ?? throw NotHandedOver::refused('an SMS goes to somebody; name whom the copy is for');

        return $this->handedOver($way, $this->number($person), $this->text->shortTogether($notices), '', $notices[0]->key);
    }

    public function test(string $way, Person $person, Instant $at): Receipt
    {
        $words = "Olivine can reach you, {$person->name}. This is a test.";

        return $this->handedOver($way, $this->number($person), $words, '', 'test-' . bin2hex(random_bytes(8)));
    }

    public function letter(string $way, Person $person, string $address, string $subject, string $text, string $key): Receipt
    {
        return $this->handedOver($way, $address === '' ? $this->number($person) : $address, $subject, '', $key);
    }

    /** @throws NotHandedOver where the person has none that was found to work */
    private function number(Person $person): string
    {
        return $this->contacts->verifiedOf($person->id(), ContactKind::Phone->value)->address
            ?? throw NotHandedOver::refused("{$person->name} has no verified number");
    }

    /**
     * @param string $end what stands at its end, however much of the text has to go
     *
     * @throws NotHandedOver
     */
    private function handedOver(string $way, string $number, string $text, string $end, string $key): Receipt
    {
        $channel = $this->channel($way);
        $message = ShortMessage::within($text, $end, self::MOST_PARTS);
        $body = ['id' => $key, 'to' => $number, 'from' => $channel->room, 'text' => $message->text, 'parts' => $message->parts];

        return $this->handover->post($channel, JsonBody::of($body))->receipt();
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\Delivery\ActLinks;
use Olivine\App\Delivery\ChartPicture;
use Olivine\App\Delivery\MailTransport;
use Olivine\App\Delivery\MessageText;
use Olivine\App\Delivery\Repository\ContactMethodRepository;
use Olivine\App\Delivery\Template\Wordings;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\Settings;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Instant;
use Symfony\Component\Mailer\Exception\TransportExceptionInterface;
use Symfony\Component\Mailer\Exception\UnexpectedResponseException;
use Symfony\Component\Mime\Address;
use Symfony\Component\Mime\Email;

/** E-mail: all that the reader needs to decide, in the subject and on one screen, with a chart and a link to acknowledge. */
final readonly class MailChannel implements Channel, CarriesLetters
{
    public const NAME = 'e-mail';
    /** The server's word that it takes nothing for now. */
    private const GOING_AWAY = 421;

    public function __construct(
        private MailTransport $transport,
        private Settings $settings,
        private ChartPicture $chart,
        private ActLinks $links,
        private MessageText $text,
        private ContactMethodRepository $contacts,
        private Wordings $wordings,
    ) {
    }

    public function part(): PartName
    {
        return PartName::Mail;
    }

    public function ways(): array
    {
        return [self::NAME];
    }

    public function personal(): array
    {
        return $this->contacts->ways(self::NAME);
    }

    public function missing(string $way): string
    {
        return $this->settings->mailDsn() === '' ? MailTransport::NO_SERVER : '';
    }

    public function carries(): Carrying
    {
        return new Carrying(true, 'by a link in it');
    }

    public function addressOf(string $way, ?Person $person): string
    {
        if ($person === null) {
            return 'e-mail to nobody';
        }

        return "e-mail to {$person->name} <{$this->address($way, $person)}>";
    }

    public function send(string $way, Notice $notice, ?Person $person): Receipt
    {
        $person ?? throw NotHandedOver::refused('mail goes to somebody; name whom the copy is for');

        return $this->handedOver($this->written($notice, $person)->to($this->to($way, $person)));
    }

    public function sendTogether(string $way, array $notices, ?Person $person): Receipt
    {
        $person ?? throw NotHandedOver::refused('mail goes to somebody; name whom the copy is for');
        $email = $this->addressed($person)
            ->to($this->to($way, $person))
            ->subject($this->text->subjectTogether($notices))
            ->text($this->text->bodyTogether('txt', $notices))
            ->html($this->text->bodyTogether('html', $notices));
        $this->keyed($email, $notices[0]->key);

        return $this->handedOver($email);
    }

    public function test(string $way, Person $person, Instant $at): Receipt
    {
        $words = "This mail says that Olivine can reach you, {$person->name}.\nIts links begin with {$this->settings->publicUrl()}\n";

        return $this->handedOver($this->addressed($person)->to($this->to($way, $person))->subject('A test from Olivine')->text($words));
    }

    public function letter(string $way, Person $person, string $address, string $subject, string $text, string $key): Receipt
    {
        $email = $this->addressed($person)->subject($subject)->text($text);
        if ($address !== '') {
            $email->to(new Address($address, OneLine::of($person->name)));
        }
        $this->keyed($email, $key);

        return $this->handedOver($email);
    }

    public function setAnew(): array
    {
        return $this->transport->isAnother() ? [self::NAME] : [];
    }

    public function rest(): void
    {
        $this->transport->rest();
    }

    /** @throws NotHandedOver where the way was taken away, or is not verified any more */
    private function to(string $way, Person $person): Address
    {
        $address = $this->address($way, $person);

        return $address === ''
            ? throw NotHandedOver::refused("{$person->name} is not reached by {$way} any more")
            : new Address($address, OneLine::of($person->name));
    }

    /** @return string "" where the way is not there any more */
    private function address(string $way, Person $person): string
    {
        if ($way === self::NAME) {
            return $person->email;
        }
        $contact = $this->contacts->ofWay($person->id(), $way);

        return $contact?->verifiedAt === null ? '' : $contact->address;
    }

    private function written(Notice $notice, Person $person): Email
    {
        $incident = $notice->incident;
        $link = !$notice->isAnswered() ? null : $this->links->make($incident->id(), $person->id(), $notice->at);
        $shipped = $this->text->shipped(null, $notice, $link);
        // An address of somebody's own is worded as all mail is.
        $words = $this->wordings->of(self::NAME, $notice, $person, $shipped, $link ?? '');
        $email = $this->addressed($person)->subject($words->subject);
        $this->keyed($email, $notice->key);
        // All that is told of an incident is one thread: each mail answers one that never was.
        $email->getHeaders()->addIdHeader('References', "incident-{$incident->id()}@{$this->domain()}");
        if ($incident->severity === Severity::Critical && $notice->isAnswered()) {
            $email->priority(Email::PRIORITY_HIGHEST);
        }
        $picture = $this->picture($notice);
        if ($picture !== null) {
            $email->embed($picture, 'chart', 'image/png');
        }
        $hasChart = $picture !== null;
        if ($words !== $shipped) {
            return $email->text($words->text)->html($this->text->ownBody($words, $hasChart, $link));
        }

        return $email
            ->text($shipped->text)
            ->html($this->text->body('html', $incident, $notice->kind, $notice->alerts, $notice->at, $link, $hasChart, $notice->more));
    }

    /** Whoever receives it knows a repeat by it. */
    private function keyed(Email $email, string $key): void
    {
        $email->getHeaders()->addIdHeader('Message-ID', "{$key}@{$this->domain()}");
        $email->getHeaders()->addTextHeader('Auto-Submitted', 'auto-generated');
    }

    private function domain(): string
    {
        return substr((string) strrchr($this->settings->mailFrom(), '@'), 1);
    }

    private function addressed(Person $person): Email
    {
        return (new Email())
            ->from(new Address($this->settings->mailFrom(), 'Olivine'))
            ->to(new Address($person->email, OneLine::of($person->name)));
    }

    /** @throws NotHandedOver where the mail server is not there, or refuses it */
    private function handedOver(Email $mail): Receipt
    {
        try {
            $sent = $this->transport->send($mail);
        } catch (TransportExceptionInterface $error) {
            $isAway = !$error instanceof UnexpectedResponseException || $error->getCode() === self::GOING_AWAY;

            throw $isAway ? NotHandedOver::away($error->getMessage(), $error) : NotHandedOver::refused($error->getMessage(), $error);
        }

        return new Receipt(MailTransport::answer($sent?->getDebug() ?? ''));
    }

    private function picture(Notice $notice): ?string
    {
        $drawn = $notice->drawn;

        return $drawn === null
            ? null
            : $this->chart->draw($drawn->by, $drawn->labels, $drawn->raisedAt, $notice->at, $this->settings->zone());
    }
}

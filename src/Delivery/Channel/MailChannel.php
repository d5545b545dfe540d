<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\Delivery\ActLinks;
use Olivine\App\Delivery\ChartPicture;
use Olivine\App\Delivery\MailTransport;
use Olivine\App\Delivery\MessageText;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\Settings;
use Olivine\Core\Rule\Severity;
use Symfony\Component\Mailer\Exception\TransportExceptionInterface;
use Symfony\Component\Mime\Address;
use Symfony\Component\Mime\Email;

/** E-mail: all that the reader needs to decide, in the subject and on one screen, with a chart and a link to acknowledge. */
final readonly class MailChannel implements Channel
{
    public const NAME = 'e-mail';

    public function __construct(
        private MailTransport $transport,
        private Settings $settings,
        private ChartPicture $chart,
        private ActLinks $links,
        private MessageText $text,
    ) {
    }

    public function name(): string
    {
        return self::NAME;
    }

    public function addressOf(Person $person): string
    {
        return "e-mail to {$person->name} <{$person->email}>";
    }

    public function send(Notice $notice, Person $person): Receipt
    {
        $mail = $this->written($notice, $person);
        try {
            $sent = $this->transport->send($mail);
        } catch (TransportExceptionInterface $error) {
            throw new NotTaken($error->getMessage(), 0, $error);
        }

        return new Receipt(MailTransport::answer($sent?->getDebug() ?? ''));
    }

    public function wasSetAnew(): bool
    {
        return $this->transport->isAnother();
    }

    public function rest(): void
    {
        $this->transport->rest();
    }

    private function written(Notice $notice, Person $person): Email
    {
        $from = $this->settings->mailFrom();
        $incident = $notice->incident;
        $email = (new Email())
            ->from(new Address($from, 'Olivine'))
            ->to(new Address($person->email, OneLine::of($person->name)))
            ->subject($this->text->subject($incident, $notice->kind, $notice->alerts, $notice->at));
        $email->getHeaders()->addIdHeader('Message-ID', $notice->key . '@' . substr((string) strrchr($from, '@'), 1));
        $email->getHeaders()->addTextHeader('Auto-Submitted', 'auto-generated');
        if ($incident->severity === Severity::Critical && !$notice->isOfTheEnd()) {
            $email->priority(Email::PRIORITY_HIGHEST);
        }
        $picture = $this->picture($notice);
        if ($picture !== null) {
            $email->embed($picture, 'chart', 'image/png');
        }
        $link = $notice->isOfTheEnd() ? null : $this->links->make($incident->id(), $person->id(), $notice->at);

        return $email
            ->text($this->text->body('txt', $incident, $notice->kind, $notice->alerts, $notice->at, $link, more: $notice->more))
            ->html($this->text->body('html', $incident, $notice->kind, $notice->alerts, $notice->at, $link, $picture !== null, $notice->more));
    }

    private function picture(Notice $notice): ?string
    {
        $drawn = $notice->drawn;

        return $drawn === null
            ? null
            : $this->chart->draw($drawn->by, $drawn->labels, $drawn->raisedAt, $notice->at, $this->settings->zone());
    }
}

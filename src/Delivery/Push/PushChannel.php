<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Push;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Channel\Carrying;
use Olivine\App\Delivery\Channel\Channel;
use Olivine\App\Delivery\Channel\NotHandedOver;
use Olivine\App\Delivery\Channel\Notice;
use Olivine\App\Delivery\Channel\Receipt;
use Olivine\App\Delivery\MessageText;
use Olivine\App\Delivery\Repository\PushBrowserRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\Settings;
use Olivine\Core\Time\Instant;

/** The browsers that a person lets be told, also while no page is open in them; a press leads to the incident. */
final readonly class PushChannel implements Channel
{
    public const NAME = 'browser';

    public function __construct(
        private PushBrowserRepository $browsers,
        private PushServices $services,
        private MessageText $text,
        private Settings $settings,
        private EntityManagerInterface $entities,
    ) {
    }

    public function part(): PartName
    {
        return PartName::Push;
    }

    public function ways(): array
    {
        return [self::NAME];
    }

    public function personal(): array
    {
        return [];
    }

    public function missing(string $way): string
    {
        return '';
    }

    public function carries(): Carrying
    {
        return new Carrying(false, 'by a press that opens the incident');
    }

    public function addressOf(string $way, ?Person $person): string
    {
        return 'notice in the browsers of ' . ($person->name ?? 'nobody');
    }

    public function send(string $way, Notice $notice, ?Person $person): Receipt
    {
        $incident = $notice->incident;

        return $this->pushed($person, [
            'title' => $this->text->subject($incident, $notice->kind, $notice->alerts, $notice->at),
            'severity' => $notice->isOfTheEnd() ? 'cleared' : $incident->severity->value,
            'tag' => "incident-{$incident->id()}",
            'url' => "{$this->settings->publicUrl()}/incidents/{$incident->id()}",
        ], Urgency::of($incident->severity), "incident-{$incident->id()}");
    }

    public function sendTogether(string $way, array $notices, ?Person $person): Receipt
    {
        $message = ['title' => $this->text->subjectTogether($notices), 'severity' => '', 'tag' => 'together', 'url' => "{$this->settings->publicUrl()}/"];

        return $this->pushed($person, $message, Urgency::Normal, 'together');
    }

    public function test(string $way, Person $person, Instant $at): Receipt
    {
        $message = ['title' => "Olivine can reach you, {$person->name}.", 'severity' => '', 'tag' => 'test', 'url' => "{$this->settings->publicUrl()}/"];

        return $this->pushed($person, $message, Urgency::High, '');
    }

    public function setAnew(): array
    {
        return [];
    }

    public function rest(): void
    {
    }

    /**
     * One that takes it is enough; what its owner let go of is forgotten.
     *
     * @param array<string, string> $message
     *
     * @throws NotHandedOver
     */
    private function pushed(?Person $person, array $message, Urgency $urgency, string $topic): Receipt
    {
        $person ?? throw NotHandedOver::refused('a notice goes to somebody; name whom the copy is for');
        $text = json_encode($message, JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE);
        $taken = [];
        $refused = null;
        foreach ($this->browsers->of($person->id()) as $browser) {
            try {
                if ($this->services->push($browser, $text, $urgency, $topic)) {
                    $taken[] = $browser->label;
                } else {
                    $this->entities->remove($browser);
                    $this->entities->flush();
                }
            } catch (NotHandedOver $error) {
                $refused = $error;
            }
        }

        return $taken === []
            ? throw $refused ?? NotHandedOver::refused("{$person->name} has no browser that lets itself be told")
            : new Receipt('taken for ' . implode(', ', $taken));
    }
}

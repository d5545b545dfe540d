<?php

declare(strict_types=1);

namespace Olivine\App\Demo;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Channel\ChannelKind;
use Olivine\App\Delivery\Channel\MailChannel;
use Olivine\App\Delivery\Entity\KeptChannel;
use Olivine\App\Delivery\Entity\PreparedAction;
use Olivine\App\Delivery\Entity\PushBrowser;
use Olivine\App\Delivery\Entity\TemplateRevision;
use Olivine\App\People\Role;
use Olivine\App\Platform\Settings;
use Olivine\App\Supervise\Ports;
use Olivine\Core\Time\Instant;

/** Every kind of channel, each with the stand-in that ships with the project. */
final readonly class DemoChannels
{
    public const PHONE_SECRET = 'three-short-rings-and-a-long-one';
    public const CHAT_SECRET = 'whoever-is-awake-says-so-here';
    public const DESK_SECRET = 'every-ticket-has-two-halves';
    public const ACTION_SECRET = 'whoever-mends-it-says-so-first';
    public const ACTION = 'Start the consumers anew';
    public const SMS = 'sms';
    public const VOICE = 'voice';
    public const CHAT = 'crew-chat';
    public const DESK = 'pier-desk';
    /** In thousandths of a euro. */
    private const PRICE_OF_SMS = 75;
    private const PRICE_OF_CALL = 120;

    public function __construct(private EntityManagerInterface $entities, private Settings $settings)
    {
    }

    public function make(Ports $ports, Instant $now): void
    {
        $at = static fn(int $port, string $path): string => "http://127.0.0.1:{$port}{$path}";
        $this->add(DemoPeople::WEBHOOK, ChannelKind::Webhook, $at($ports->sink(), '/events'), DemoPeople::WEBHOOK_SECRET, true);
        $this->add(self::SMS, ChannelKind::Sms, $at($ports->phone(), '/messages'), self::PHONE_SECRET, price: self::PRICE_OF_SMS);
        $this->add(self::VOICE, ChannelKind::Voice, $at($ports->phone(), '/calls'), self::PHONE_SECRET, price: self::PRICE_OF_CALL);
        $this->add(self::CHAT, ChannelKind::Chat, $at($ports->chat(), '/hooks/' . self::CHAT), self::CHAT_SECRET, room: 'skarn-pier');
        $this->add(self::DESK, ChannelKind::Ticket, $at($ports->desk(), '/tickets'), self::DESK_SECRET, room: 'piers');
        $this->entities->persist(new PreparedAction(
            self::ACTION,
            'queue = "boarding" or kind = "broker"',
            'Starts the consumers of its boarding queue anew; whoever boards waits for half a minute.',
            $at($ports->fleet(), '/act'),
            'restart-consumers',
            $this->settings->seal(self::ACTION_SECRET),
            Role::Engineer,
        ));
        $this->entities->persist(new TemplateRevision(
            MailChannel::NAME,
            'tickets',
            1,
            '{% if over %}{{ subject }}{% else %}Tickets, {{ incident.severity }}: {{ subject }}{% endif %}',
            '',
            false,
            null,
            $now,
        ));
    }

    /** The browser of Ines lets itself be told; it may still be on its way up. */
    public function letBrowsersBeTold(Ports $ports, int $person, Instant $now): void
    {
        $context = stream_context_create(['http' => ['timeout' => 5.0]]);
        $said = json_decode((string) @file_get_contents("http://127.0.0.1:{$ports->browser()}/subscription", false, $context), true);
        $part = static fn(string $name): string => is_array($said) && is_string($said[$name] ?? null) ? $said[$name] : '';
        if ($part('endpoint') !== '') {
            $this->entities->persist(new PushBrowser($person, $part('endpoint'), $part('key'), $part('auth'), 'The browser on her desk', $now));
        }
    }

    private function add(
        string $name,
        ChannelKind $kind,
        string $url,
        string $secret,
        bool $standsIn = false,
        string $room = '',
        int $price = 0,
    ): void {
        $sender = $kind->isByNumber() ? 'Saltmarsh' : $room;
        $this->entities->persist(new KeptChannel($name, $kind, $url, $this->settings->seal($secret), $standsIn, $sender, $price));
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Setup;

use Olivine\App\Collect\BadAddress;
use Olivine\App\Collect\TargetAddress;
use Olivine\App\Delivery\Channel\MailChannel;
use Olivine\App\Delivery\Channel\NotHandedOver;
use Olivine\App\People\Addresses;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Setting;
use Olivine\App\Platform\Settings;
use Olivine\App\Platform\Versions;
use Olivine\App\Setup\Answer\MailServer;
use Olivine\App\Setup\Answer\Settings as ShownSettings;
use Olivine\App\Setup\Answer\TestMail;
use Olivine\App\Setup\Definition\MailServerFields;
use Olivine\App\Setup\Definition\MailTls;
use Olivine\App\Setup\Definition\SettingsFields;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Mail, sender, public address, zone and how long people stay signed in: read by all, set by administrators, in force at once. */
#[IsGranted('ROLE_VIEWER')]
final readonly class SettingsApi
{
    public function __construct(private Settings $settings, private MailChannel $mail, private Audit $audit, private Clock $clock = new Clock())
    {
    }

    #[Route('/api/settings', methods: ['GET'])]
    public function settings(): JsonResponse
    {
        return new JsonResponse($this->shown());
    }

    #[Route('/api/settings', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function change(#[Body] SettingsFields $fields): JsonResponse
    {
        $before = $this->shown();
        Versions::hold($fields->version, $before->version, $before);
        $values = [
            Setting::PublicUrl->value => self::publicUrl($fields->publicUrl),
            Setting::MailFrom->value => Addresses::checked('mailFrom', $fields->mailFrom),
            Setting::Zone->value => self::zone($fields->zone),
            Setting::IdleHours->value => (string) $fields->idleHours,
            Setting::SessionDays->value => (string) $fields->sessionDays,
            Setting::MostAnHour->value => (string) $fields->mostAnHour,
            Setting::MostAMinute->value => (string) $fields->mostAMinute,
            Setting::Holidays->value => implode(', ', self::holidays($fields->holidays)),
        ];
        if ($fields->mailServer !== null) {
            $values[Setting::MailDsn->value] = $this->settings->seal($this->mailDsn($fields->mailServer));
        }
        $this->settings->keep($values);
        $after = $this->shown();
        $this->audit->record('changed', 'settings', $before, $after);

        return new JsonResponse($after);
    }

    /** Sends a mail to whoever asks, and answers what the mail server said. */
    #[Route('/api/settings/test-mail', methods: ['POST'])]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function testMail(#[CurrentUser] Person $person): JsonResponse
    {
        $began = hrtime(true);
        try {
            $answer = $this->mail->test(MailChannel::NAME, $person, $this->clock->now())->answer;
        } catch (NotHandedOver $error) {
            $why = mb_substr(OneLine::of($error->getMessage()), 0, 500);

            return new JsonResponse(new TestMail(message: $why, ok: false, to: $person->email));
        }
        $words = sprintf('The mail server took it in %d ms: %s', (hrtime(true) - $began) / 1e6, $answer);

        return new JsonResponse(new TestMail(message: $words, ok: true, to: $person->email));
    }

    /**
     * @return list<string> rising, each once
     *
     * @throws Problem naming the day that is none
     */
    private static function holidays(string $written): array
    {
        $days = preg_split('~[\s,;]+~', $written, -1, PREG_SPLIT_NO_EMPTY) ?: [];
        foreach ($days as $day) {
            if (preg_match('~^(\d{4})-(\d\d)-(\d\d)$~D', $day, $part) !== 1 || !checkdate((int) $part[2], (int) $part[3], (int) $part[1])) {
                $shown = mb_substr(OneLine::of($day), 0, 40);
                throw Problem::field('holidays', "holidays must be days such as 2026-12-25; {$shown} is none");
            }
        }
        $days = array_values(array_unique($days));
        sort($days);

        return $days;
    }

    /** What has no version of its own is known by all it holds. */
    private function shown(): ShownSettings
    {
        $shown = new ShownSettings(
            holidays: implode(', ', $this->settings->enteredHolidays()),
            idleHours: $this->settings->idleHours(),
            mailFrom: $this->settings->mailFrom(),
            mailServer: $this->shownServer(),
            mostAMinute: $this->settings->mostAMinute(),
            mostAnHour: $this->settings->mostAnHour(),
            publicUrl: $this->settings->publicUrl(),
            sessionDays: $this->settings->sessionDays(),
            version: '',
            zone: $this->settings->zone()->getName(),
        );

        return $shown->withVersion(hash('sha256', json_encode($shown, JSON_THROW_ON_ERROR)));
    }

    /** Without its password. */
    private function shownServer(): ?MailServer
    {
        $parts = parse_url($this->settings->mailDsn());
        if (!is_array($parts) || !in_array($parts['scheme'] ?? '', ['smtp', 'smtps'], true)) {
            return null;
        }
        parse_str($parts['query'] ?? '', $query);
        $isTls = $parts['scheme'] === 'smtps';

        return new MailServer(
            host: $parts['host'] ?? '',
            port: $parts['port'] ?? ($isTls ? 465 : 25),
            tls: match (true) {
                $isTls => MailTls::Always,
                ($query['auto_tls'] ?? '') === 'false' => MailTls::Never,
                default => MailTls::IfOffered,
            },
            user: rawurldecode($parts['user'] ?? ''),
        );
    }

    /** @return string "" where no mail is to be sent; a password that is not sent stays as it is, for the same server */
    private function mailDsn(MailServerFields $server): string
    {
        if ($server->host === '') {
            return '';
        }
        if (preg_match('~^[a-z0-9._:\[\]-]+$~iD', $server->host) !== 1) {
            throw Problem::field(
                'mailServer',
                'The mail server must be the name or the address of a host, such as mail.saltmarsh.example',
            );
        }
        $before = parse_url($this->settings->mailDsn());
        $isSame =
            is_array($before)
            && strtolower($before['host'] ?? '') === strtolower($server->host)
            && rawurldecode($before['user'] ?? '') === $server->user;
        if ($server->user !== '' && $server->password === null && !$isSame) {
            throw Problem::field('mailServer', 'Enter the password again: it goes to nobody it was not meant for');
        }
        $password = $server->password ?? rawurldecode(is_array($before) ? $before['pass'] ?? '' : '');
        $who = $server->user === '' ? '' : rawurlencode($server->user) . ':' . rawurlencode($password) . '@';
        $scheme = $server->tls === MailTls::Always ? 'smtps' : 'smtp';

        return "{$scheme}://{$who}{$server->host}:{$server->port}" . ($server->tls === MailTls::Never ? '?auto_tls=false' : '');
    }

    private static function publicUrl(string $url): string
    {
        try {
            return rtrim(TargetAddress::of($url)->url(), '/');
        } catch (BadAddress $error) {
            throw Problem::field('publicUrl', "publicUrl {$error->getMessage()}");
        }
    }

    private static function zone(string $zone): string
    {
        return in_array($zone, \DateTimeZone::listIdentifiers(), true)
            ? $zone
            : throw Problem::field('zone', 'zone must be the name of a time zone, such as Europe/Lisbon');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Setup;

use Olivine\App\Collect\BadAddress;
use Olivine\App\Collect\TargetAddress;
use Olivine\App\Delivery\MailTransport;
use Olivine\App\People\Addresses;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Input;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Setting;
use Olivine\App\Platform\Settings;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Mime\Address;
use Symfony\Component\Mime\Email;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Mail, sender, public address, zone and how long people stay signed in: read by all, set by administrators, in force at once. */
#[IsGranted('ROLE_VIEWER')]
final readonly class SettingsApi
{
    private const LONGEST = 400;

    public function __construct(private Settings $settings, private MailTransport $transport, private Audit $audit)
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
    public function change(Request $request): JsonResponse
    {
        $input = Input::of($request);
        $before = $this->shown();
        if ($input->text('version', 64, shortest: 1) !== $before['version']) {
            throw new Problem(409, 'Somebody changed this while you had it open', ['now' => $before]);
        }
        $values = [
            Setting::PublicUrl->value => self::publicUrl($input->line('publicUrl', self::LONGEST, shortest: 1)),
            Setting::MailFrom->value => Addresses::checked('mailFrom', $input->line('mailFrom', 180, shortest: 1)),
            Setting::Zone->value => self::zone($input->line('zone', 60, shortest: 1)),
            Setting::IdleHours->value => (string) $input->whole('idleHours', 1, 168),
            Setting::SessionDays->value => (string) $input->whole('sessionDays', 1, 90),
        ];
        if ($input->has('mailServer')) {
            $values[Setting::MailDsn->value] = $this->settings->seal($this->mailDsn($input->part('mailServer')));
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
        $email = (new Email())
            ->from(new Address($this->settings->mailFrom(), 'Olivine'))
            ->to(new Address($person->email, OneLine::of($person->name)))
            ->subject('A test from Olivine')
            ->text(
                "This mail says that Olivine can reach you, {$person->name}.\nIts links begin with {$this->settings->publicUrl()}\n",
            );
        $began = hrtime(true);
        try {
            $sent = $this->transport->send($email);
        } catch (\Throwable $error) {
            return new JsonResponse([
                'ok' => false,
                'message' => mb_substr(OneLine::of($error->getMessage()), 0, 500),
                'to' => $person->email,
            ]);
        }
        $answer = MailTransport::answer($sent?->getDebug() ?? '');

        return new JsonResponse([
            'ok' => true,
            'message' => sprintf('The mail server took it in %d ms: %s', (hrtime(true) - $began) / 1e6, $answer),
            'to' => $person->email,
        ]);
    }

    /**
     * @return array{
     *     publicUrl: string,
     *     mailFrom: string,
     *     mailServer: array{host: string, port: int, user: string, tls: string}|null,
     *     zone: string,
     *     idleHours: int,
     *     sessionDays: int,
     *     version: string,
     * }
     */
    private function shown(): array
    {
        $shown = [
            'publicUrl' => $this->settings->publicUrl(),
            'mailFrom' => $this->settings->mailFrom(),
            'mailServer' => $this->shownServer(),
            'zone' => $this->settings->zone()->getName(),
            'idleHours' => $this->settings->idleHours(),
            'sessionDays' => $this->settings->sessionDays(),
        ];

        return $shown + ['version' => hash('sha256', json_encode($shown, JSON_THROW_ON_ERROR))];
    }

    /** @return array{host: string, port: int, user: string, tls: string}|null without its password */
    private function shownServer(): ?array
    {
        $parts = parse_url($this->settings->mailDsn());
        if (!is_array($parts) || !in_array($parts['scheme'] ?? '', ['smtp', 'smtps'], true)) {
            return null;
        }
        parse_str($parts['query'] ?? '', $query);
        $isTls = $parts['scheme'] === 'smtps';

        return [
            'host' => $parts['host'] ?? '',
            'port' => $parts['port'] ?? ($isTls ? 465 : 25),
            'user' => rawurldecode($parts['user'] ?? ''),
            'tls' => $isTls ? 'always' : (($query['auto_tls'] ?? '') === 'false' ? 'never' : 'if offered'),
        ];
    }

    /** @return string "" where no mail is to be sent; a password that is not sent stays as it is, for the same server */
    private function mailDsn(Input $server): string
    {
        $host = $server->line('host', 253, '');
        if ($host === '') {
            return '';
        }
        if (preg_match('~^[a-z0-9._:\[\]-]+$~iD', $host) !== 1) {
            throw Problem::field(
                'mailServer',
                'The mail server must be the name or the address of a host, such as mail.saltmarsh.example',
            );
        }
        $port = $server->whole('port', 1, 65_535, 25);
        $user = $server->line('user', self::LONGEST, '');
        $tls = $server->line('tls', 20, 'if offered');
        if (!in_array($tls, ['always', 'if offered', 'never'], true)) {
            throw Problem::field('mailServer', 'tls must be one of always, if offered, never');
        }
        $before = parse_url($this->settings->mailDsn());
        $isSame =
            is_array($before)
            && strtolower($before['host'] ?? '') === strtolower($host)
            && rawurldecode($before['user'] ?? '') === $user;
        if ($user !== '' && !$server->has('password') && !$isSame) {
            throw Problem::field('mailServer', 'Enter the password again: it goes to nobody it was not meant for');
        }
        $password = $server->has('password')
            ? $server->secret('password', self::LONGEST)
            : rawurldecode(is_array($before) ? $before['pass'] ?? '' : '');
        $who = $user === '' ? '' : rawurlencode($user) . ':' . rawurlencode($password) . '@';

        return ($tls === 'always' ? 'smtps' : 'smtp') . "://{$who}{$host}:{$port}" . ($tls === 'never' ? '?auto_tls=false' : '');
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

<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Supervise\Ports;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\HttpFoundation\IpUtils;

/**
 * Which addresses targets may be read at. Whoever may add targets could else read through Olivine what only this machine,
 * or only its network, can reach. Never: what a cloud tells its machines of themselves, link-local addresses, and our own
 * parts but for the figures they show. This machine and private networks: as the configuration says (OLIVINE_MAY_ASK).
 */
final readonly class Reach
{
    private const NEVER = [
        '0.0.0.0/8',
        '169.254.0.0/16',
        '224.0.0.0/4',
        '255.255.255.255/32',
        '100.100.100.200/32',
        '168.63.129.16/32',
        '192.0.0.192/32',
        '::/128',
        'fe80::/10',
        'ff00::/8',
        'fd00:ec2::/32',
        '64:ff9b::/96',
    ];
    private const LOOPBACK = ['127.0.0.0/8', '::1/128'];
    private const PRIVATE = ['10.0.0.0/8', '172.16.0.0/12', '192.168.0.0/16', '100.64.0.0/10', '198.18.0.0/15', 'fc00::/7'];
    private const OWN_FIGURES = '/api/own-metrics';
    /** @var list<string> */
    private array $mayAsk;

    /** @param string $mayAsk words of loopback and private */
    public function __construct(
        #[Autowire('%env(OLIVINE_MAY_ASK)%')]
        string $mayAsk,
        #[Autowire('%env(int:OLIVINE_PORT)%')]
        private int $ownPort,
    ) {
        $this->mayAsk = preg_split('~[\s,]+~', $mayAsk, -1, PREG_SPLIT_NO_EMPTY) ?: [];
    }

    /** What can be told before anybody is asked: a host that is an address already, or this machine by its name. */
    public function refuseEarly(TargetAddress $address): ?string
    {
        $host = trim($address->host, '[].');
        $isHere = $host === 'localhost' || str_ends_with($host, '.localhost');

        return filter_var($host, FILTER_VALIDATE_IP) !== false || $isHere
            ? $this->refuse($isHere ? '127.0.0.1' : $host, $address)
            : null;
    }

    /**
     * @param string $ip where the name of the host led to
     *
     * @return string|null why it may not be asked
     */
    public function refuse(string $ip, TargetAddress $address): ?string
    {
        // An address of the older kind within one of the newer is what it holds.
        $ip = preg_match('~^::ffff:(\d+\.\d+\.\d+\.\d+)$~i', $ip, $part) === 1 ? $part[1] : $ip;
        $isHere = IpUtils::checkIp($ip, self::LOOPBACK);

        return match (true) {
            IpUtils::checkIp($ip, self::NEVER) => "The address leads to {$ip}, which Olivine never asks",
            $isHere && $this->isOurs($address)
                => 'The address leads to a part of Olivine itself; of its own it shows only its figures, at ' . self::OWN_FIGURES,
            $isHere && $address->port === $this->ownPort, $isHere && $address->port === $this->ports()->agent() => null,
            $isHere && !in_array('loopback', $this->mayAsk, true) => $this->refused('this machine itself', 'loopback'),
            IpUtils::checkIp($ip, self::PRIVATE) && !in_array('private', $this->mayAsk, true) => $this->refused(
                "{$ip} in a private network",
                'private',
            ),
            default => null,
        };
    }

    private function isOurs(TargetAddress $address): bool
    {
        $ports = $this->ports();
        if ($address->port === $ports->web()) {
            return $address->path !== self::OWN_FIGURES;
        }

        return in_array($address->port, [$ports->database(), $ports->pages(), $ports->smtp(), $ports->mailbox()], true);
    }

    private function ports(): Ports
    {
        return new Ports($this->ownPort);
    }

    private function refused(string $where, string $word): string
    {
        return "The address leads to {$where}, which Olivine may not ask here; whoever keeps this instance can allow it: add "
            . "{$word} to OLIVINE_MAY_ASK in its env file";
    }
}

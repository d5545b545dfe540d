<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\Collect\Reach;
use Olivine\App\Collect\TargetAddress;
use Olivine\App\Platform\Scalar;

/** Where the name of a host leads, and whether that may be asked. */
final readonly class HostLookup
{
    private const SLOW_SECONDS = 1.0;

    public function __construct(private Reach $reach)
    {
    }

    /**
     * @return string the address that it leads to
     *
     * @throws NotHandedOver where the name is not known, or leads to where nothing may be asked
     */
    public function allowed(TargetAddress $address): string
    {
        $host = trim($address->host, '[]');
        $ips = filter_var($host, FILTER_VALIDATE_IP) !== false ? [$host] : self::lookUp($host);
        $refusal = 'The name of the host is not known';
        foreach ($ips as $ip) {
            $refusal = $this->reach->refuse($ip, $address);
            if ($refusal === null) {
                return $ip;
            }
        }

        throw $ips === [] ? NotHandedOver::away($refusal) : NotHandedOver::refused($refusal);
    }

    /** @return list<string> */
    private static function lookUp(string $host): array
    {
        $began = microtime(true);
        $found = gethostbynamel($host) ?: [];
        // Where nobody answers at all, nobody is asked for the newer kind.
        if ($found !== [] || microtime(true) - $began > self::SLOW_SECONDS) {
            return $found;
        }
        $ips = [];
        foreach (@dns_get_record($host, DNS_AAAA) ?: [] as $record) {
            $ips[] = Scalar::text($record['ipv6'] ?? '');
        }

        return $ips;
    }
}

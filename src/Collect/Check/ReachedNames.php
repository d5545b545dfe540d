<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\HostNames;
use Olivine\App\Collect\Reach;
use Olivine\App\Collect\ScrapeRefused;
use Olivine\App\Platform\Problem;
use React\EventLoop\LoopInterface;
use React\Promise\PromiseInterface;

/** Where the name of a host leads, once it was looked at whether Olivine may ask there. */
final class ReachedNames
{
    private readonly HostNames $names;

    public function __construct(LoopInterface $loop, private readonly Reach $reach)
    {
        $this->names = new HostNames($loop);
    }

    /**
     * @return PromiseInterface<string> an address, which is what is to be asked
     *
     * @throws Problem       where the host is none
     * @throws ScrapeRefused where Olivine may not ask there
     */
    public function address(string $host, int $port, SocketTimes $times): PromiseInterface
    {
        $address = SocketChecks::address($host, $port);
        $early = $this->reach->refuseEarly($address);
        if ($early !== null) {
            throw new ScrapeRefused($early);
        }

        return $this->names->addresses($host)->then(function (array $ips) use ($address, $times): string {
            $times->named($ips[0], $address->host);
            $refusal = $this->reach->refuse($ips[0], $address);
            if ($refusal !== null) {
                $times->isOurs = true;
                throw new ScrapeRefused($refusal);
            }

            return $ips[0];
        });
    }
}

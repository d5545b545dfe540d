<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Calendar;

use Olivine\App\Collect\BadAddress;
use Olivine\App\Collect\TargetAddress;
use Olivine\App\Delivery\Channel\HostLookup;
use Olivine\App\Delivery\Channel\NotHandedOver;
use Symfony\Contracts\HttpClient\Exception\ExceptionInterface;
use Symfony\Contracts\HttpClient\HttpClientInterface;

/** Reads a calendar at its address: bounded in size and time, and nowhere that may not be asked. */
final readonly class CalendarFetch
{
    private const SECONDS = 10;
    private const MOST_BYTES = 2_000_000;

    public function __construct(private HttpClientInterface $client, private HostLookup $hosts)
    {
    }

    /** @throws BadCalendar with what is wrong */
    public function text(string $url): string
    {
        try {
            $address = TargetAddress::of($url);
            $ip = $this->hosts->allowed($address);
        } catch (BadAddress $bad) {
            throw new BadCalendar("Its address {$bad->getMessage()}", 0, $bad);
        } catch (NotHandedOver $refused) {
            throw new BadCalendar($refused->getMessage(), 0, $refused);
        }
        try {
            return $this->read($address, $ip);
        } catch (ExceptionInterface $error) {
            throw new BadCalendar('It could not be read within ' . self::SECONDS . ' s: nobody answers there, or too slowly', 0, $error);
        }
    }

    /**
     * @throws BadCalendar
     * @throws ExceptionInterface
     */
    private function read(TargetAddress $address, string $ip): string
    {
        $response = $this->client->request('GET', $address->url(), [
            'resolve' => [trim($address->host, '[]') => $ip],
            'max_redirects' => 0,
            'buffer' => false,
            'timeout' => self::SECONDS,
            'max_duration' => self::SECONDS,
        ]);
        $status = $response->getStatusCode();
        if ($status >= 300) {
            $response->cancel();
            $remedy = $status < 400 ? '; give the address that it leads to' : '';
            throw new BadCalendar("It answered with status {$status}{$remedy}");
        }
        $text = '';
        foreach ($this->client->stream($response) as $chunk) {
            $text .= $chunk->getContent();
            if (strlen($text) > self::MOST_BYTES) {
                $response->cancel();
                throw new BadCalendar(sprintf('It is larger than %d MB', self::MOST_BYTES / 1_000_000));
            }
        }

        return $text;
    }
}

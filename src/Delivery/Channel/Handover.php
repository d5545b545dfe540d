<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\Collect\BadAddress;
use Olivine\App\Collect\Credentials;
use Olivine\App\Collect\TargetAddress;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\OneLine;
use Symfony\Component\HttpClient\HttpClient;
use Symfony\Contracts\HttpClient\Exception\ExceptionInterface;
use Symfony\Contracts\HttpClient\HttpClientInterface;
use Symfony\Contracts\HttpClient\ResponseInterface;

/**
 * Hands words over to another program, signed. Whether the address may be asked is looked at when it is asked, and the request goes
 * to the very host that was looked at; nothing that sends it on is followed.
 */
final readonly class Handover
{
    private const SHOWN_BYTES = 200;
    private const READ_BYTES = 20_000;
    /** For an answer; less where the name took long to be looked up. */
    private const MOST_SECONDS = 3.0;
    private const LEAST_SECONDS = 1.0;
    private const BUSY = [408, 429];
    private HttpClientInterface $client;

    public function __construct(private HostLookup $hosts, private Credentials $seals, private Clock $clock = new Clock())
    {
        // No proxy of the environment comes between: it would look the name up anew.
        $this->client = HttpClient::create(['max_redirects' => 0, 'no_proxy' => '*']);
    }

    /**
     * @param string $body as it is signed
     * @param string $path beside the address of the channel: "" or /PIER-17/comments
     *
     * @throws NotHandedOver
     */
    public function post(
        SignedReceiver $to,
        string $body,
        string $type = 'application/json',
        string $path = '',
        float $mostSeconds = self::MOST_SECONDS,
    ): Answered {
        return $this->asked($to, 'POST', $body, $type, $path, $mostSeconds);
    }

    /** @throws NotHandedOver */
    public function get(SignedReceiver $to, string $path): Answered
    {
        return $this->asked($to, 'GET', '', 'application/json', $path, self::MOST_SECONDS);
    }

    /** @throws NotHandedOver */
    private function asked(SignedReceiver $to, string $method, string $body, string $type, string $path, float $mostSeconds): Answered
    {
        try {
            $address = TargetAddress::of($to->address());
        } catch (BadAddress $bad) {
            throw NotHandedOver::refused("its address {$bad->getMessage()}", $bad);
        }
        $began = microtime(true);
        $ip = $this->hosts->allowed($address);
        // The lookup may have taken most of what a message has.
        $bound = max($mostSeconds, SendBound::SECONDS);
        $left = max(self::LEAST_SECONDS, min($mostSeconds, $bound - (microtime(true) - $began)));
        try {
            $response = $this->client->request($method, self::within($address->url(), $path), [
                'headers' => ['Content-Type' => $type, ...$this->signature($to, $body)],
                'body' => $body,
                'resolve' => [trim($address->host, '[]') => $ip],
                'buffer' => false,
                'timeout' => $left,
                'max_duration' => $left,
            ]);
            $status = $response->getStatusCode();
            $read = $this->beginning($response, $status < 300 ? self::READ_BYTES : self::SHOWN_BYTES);
            $response->cancel();
        } catch (ExceptionInterface $error) {
            throw self::unanswered($error, $mostSeconds);
        }
        $shown = mb_strcut(OneLine::of(mb_scrub($read)), 0, self::SHOWN_BYTES);
        $answer = rtrim("answered with status {$status}: {$shown}", ': ');

        return match (true) {
            $status >= 200 && $status < 300 => new Answered($status, $read),
            $status >= 500, in_array($status, self::BUSY, true) => throw NotHandedOver::away($answer),
            default => throw NotHandedOver::refused($answer),
        };
    }

    /** `https://desk.example/tickets?team=piers` and `/PIER-17`: the path goes before what is asked. */
    private static function within(string $url, string $path): string
    {
        [$place, $asked] = [...explode('?', $url, 2), ''];

        return $path === '' ? $url : rtrim($place, '/') . $path . ($asked === '' ? '' : "?{$asked}");
    }

    /**
     * The receiver works out the same over the time, a full stop and the body, and takes nothing that is old.
     *
     * @return array<string, string>
     */
    private function signature(SignedReceiver $to, string $body): array
    {
        return Signature::headers($this->seals->openText($to->sealedSecret()), $body, $this->clock->now());
    }

    /** @throws ExceptionInterface */
    private function beginning(ResponseInterface $response, int $most): string
    {
        $read = '';
        foreach ($this->client->stream($response) as $chunk) {
            $read .= $chunk->getContent();
            if ($chunk->isLast() || strlen($read) >= $most) {
                break;
            }
        }

        return substr($read, 0, $most);
    }

    /** Without the words of a library, where they are known. */
    private static function unanswered(ExceptionInterface $error, float $mostSeconds): NotHandedOver
    {
        $message = $error->getMessage();

        return match (true) {
            preg_match('~timed? ?out|max duration~i', $message) === 1
                => NotHandedOver::unheard(sprintf('it did not answer within %d s', $mostSeconds), $error),
            preg_match('~refused|failed to connect|could not connect~i', $message) === 1 => NotHandedOver::away('nobody listens there', $error),
            default => NotHandedOver::unheard(OneLine::of($message), $error),
        };
    }
}

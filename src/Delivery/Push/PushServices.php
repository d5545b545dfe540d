<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Push;

use Olivine\App\Collect\BadAddress;
use Olivine\App\Collect\TargetAddress;
use Olivine\App\Delivery\Channel\HostLookup;
use Olivine\App\Delivery\Channel\NotHandedOver;
use Olivine\App\Delivery\Channel\SendBound;
use Olivine\App\Delivery\Entity\PushBrowser;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\OneLine;
use Symfony\Component\HttpClient\HttpClient;
use Symfony\Contracts\HttpClient\Exception\ExceptionInterface;
use Symfony\Contracts\HttpClient\HttpClientInterface;

/** Hands a message to the push service of a browser (RFC 8030), sealed, as known by our key. */
final readonly class PushServices
{
    private const MOST_SECONDS = 3.0;
    private const KEPT_SECONDS = 3_600;
    private const GONE = [404, 410];
    private HttpClientInterface $client;

    public function __construct(private HostLookup $hosts, private PushKeys $keys, private Clock $clock = new Clock())
    {
        $this->client = HttpClient::create(['max_redirects' => 0, 'no_proxy' => '*']);
    }

    /**
     * @param string $topic what it replaces where that is not read yet; "": nothing
     *
     * @return bool whether it is there still; false: its owner let go of it, and it is to be forgotten
     *
     * @throws NotHandedOver
     */
    public function push(PushBrowser $browser, string $text, Urgency $urgency, string $topic): bool
    {
        try {
            $address = TargetAddress::of($browser->endpoint);
        } catch (BadAddress $bad) {
            throw NotHandedOver::refused("its address {$bad->getMessage()}", $bad);
        }
        $began = microtime(true);
        $ip = $this->hosts->allowed($address);
        $left = max(1.0, min(self::MOST_SECONDS, SendBound::SECONDS - (microtime(true) - $began)));
        $body = PushCipher::sealed(
            mb_strcut($text, 0, PushCipher::MOST_BYTES),
            PushKeys::bytes($browser->key),
            PushKeys::bytes($browser->auth),
            EcKey::made(),
            PushCipher::salt(),
        );
        $parts = parse_url($browser->endpoint);
        $origin = ($parts['scheme'] ?? '') . '://' . ($parts['host'] ?? '') . (isset($parts['port']) ? ":{$parts['port']}" : '');
        try {
            $response = $this->client->request('POST', $browser->endpoint, [
                'headers' => [
                    'Content-Type' => 'application/octet-stream',
                    'Content-Encoding' => 'aes128gcm',
                    'TTL' => (string) self::KEPT_SECONDS,
                    'Urgency' => $urgency->value,
                    'Authorization' => $this->keys->authorization($origin, $this->clock->now()),
                    ...($topic === '' ? [] : ['Topic' => $topic]),
                ],
                'body' => $body,
                'resolve' => [trim($address->host, '[]') => $ip],
                'timeout' => $left,
                'max_duration' => $left,
            ]);
            $status = $response->getStatusCode();
            $response->cancel();
        } catch (ExceptionInterface $error) {
            throw NotHandedOver::away('the push service of the browser does not answer: ' . OneLine::of($error->getMessage()), $error);
        }
        if (in_array($status, self::GONE, true)) {
            return false;
        }
        $answer = "the push service answered with status {$status}";

        return match (true) {
            $status >= 200 && $status < 300 => true,
            $status >= 500, $status === 429 => throw NotHandedOver::away($answer),
            default => throw NotHandedOver::refused($answer),
        };
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\Collect\BadAddress;
use Olivine\App\Collect\Credentials;
use Olivine\App\Collect\TargetAddress;
use Olivine\App\Delivery\Entity\Webhook;
use Olivine\App\Delivery\Repository\WebhookRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\PartName;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Symfony\Component\HttpClient\HttpClient;
use Symfony\Contracts\HttpClient\Exception\ExceptionInterface;
use Symfony\Contracts\HttpClient\HttpClientInterface;
use Symfony\Contracts\HttpClient\ResponseInterface;
use Symfony\Contracts\Service\ResetInterface;

/**
 * Other programs, told by a signed request. Whether the address may be asked is looked at when it is asked, and the request goes
 * to the very host that was looked at; nothing that sends it on is followed.
 */
final class WebhookChannel implements Channel, ResetInterface
{
    private const KNOWN_MS = 1_000;
    private const SHOWN_BYTES = 200;
    /** For an answer; less where the name took long to be looked up. */
    private const MOST_SECONDS = 3.0;
    private const LEAST_SECONDS = 1.0;
    private const BUSY = [408, 429];
    private readonly HttpClientInterface $client;
    /** @var array<string, int> name → how often it was changed */
    private array $versions = [];
    private ?Instant $knownAt = null;
    /** @var array<string, int>|null as they were when it was asked last which were set anew */
    private ?array $before = null;

    public function __construct(
        private readonly WebhookRepository $webhooks,
        private readonly HostLookup $hosts,
        private readonly WebhookEvents $events,
        private readonly Credentials $seals,
        private readonly Clock $clock = new Clock(),
    ) {
        // No proxy of the environment comes between: it would look the name up anew.
        $this->client = HttpClient::create(['max_redirects' => 0, 'no_proxy' => '*']);
    }

    public function part(): PartName
    {
        return PartName::Webhooks;
    }

    public function ways(): array
    {
        return array_keys($this->known());
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
        return new Carrying(false, '');
    }

    public function addressOf(string $way, ?Person $person): string
    {
        return "webhook {$way}" . ($person === null ? '' : " for {$person->name}");
    }

    public function send(string $way, Notice $notice, ?Person $person): Receipt
    {
        return $this->handedOver($way, $this->events->of($notice, $person), $notice->at);
    }

    public function sendTogether(string $way, array $notices, ?Person $person): Receipt
    {
        return $this->handedOver($way, $this->events->together($notices, $person), $notices[0]->at);
    }

    public function test(string $way, Person $person, Instant $at): Receipt
    {
        return $this->handedOver($way, $this->events->test($person, $at), $at);
    }

    public function setAnew(): array
    {
        $now = $this->known();
        $anew = $this->before === null ? [] : array_keys(array_diff_assoc($now, $this->before));
        $this->before = $now;

        return $anew;
    }

    public function rest(): void
    {
    }

    /**
     * @param string $body as it is signed
     *
     * @throws NotHandedOver
     */
    private function handedOver(string $way, string $body, Instant $at): Receipt
    {
        $webhook = $this->webhooks->named($way) ?? throw NotHandedOver::refused("there is no webhook {$way} any more");
        try {
            $address = TargetAddress::of($webhook->url);
        } catch (BadAddress $bad) {
            throw NotHandedOver::refused("its address {$bad->getMessage()}", $bad);
        }
        $began = microtime(true);
        $ip = $this->hosts->allowed($address);
        $left = max(self::LEAST_SECONDS, min(self::MOST_SECONDS, SendBound::SECONDS - (microtime(true) - $began)));
        try {
            $response = $this->client->request('POST', $address->url(), [
                'headers' => ['Content-Type' => 'application/cloudevents+json', ...$this->signature($webhook, $body, $at)],
                'body' => $body,
                'resolve' => [trim($address->host, '[]') => $ip],
                'buffer' => false,
                'timeout' => $left,
                'max_duration' => $left,
            ]);
            $status = $response->getStatusCode();
            $said = $status < 300 ? '' : $this->beginning($response);
            $response->cancel();
        } catch (ExceptionInterface $error) {
            throw NotHandedOver::away(self::why($error->getMessage()), $error);
        }
        $answer = rtrim("answered with status {$status}: {$said}", ': ');

        return match (true) {
            $status >= 200 && $status < 300 => new Receipt("status {$status}"),
            $status >= 500, in_array($status, self::BUSY, true) => throw NotHandedOver::away($answer),
            default => throw NotHandedOver::refused($answer),
        };
    }

    /**
     * The receiver works out the same over the time, a full stop and the body, and takes nothing that is old.
     *
     * @return array<string, string>
     */
    private function signature(Webhook $webhook, string $body, Instant $at): array
    {
        $time = (string) intdiv($at->ms, 1000);

        return [
            'Olivine-Time' => $time,
            'Olivine-Signature' => 'sha256=' . hash_hmac('sha256', "{$time}.{$body}", $this->seals->openText($webhook->secret)),
        ];
    }

    /** @throws ExceptionInterface */
    private function beginning(ResponseInterface $response): string
    {
        $read = '';
        foreach ($this->client->stream($response) as $chunk) {
            $read .= $chunk->getContent();
            if ($chunk->isLast() || strlen($read) >= self::SHOWN_BYTES) {
                break;
            }
        }

        return mb_strcut(OneLine::of(mb_scrub($read)), 0, self::SHOWN_BYTES);
    }

    /** Without the words of a library, where they are known. */
    private static function why(string $message): string
    {
        return match (true) {
            preg_match('~timed? ?out|max duration~i', $message) === 1 => sprintf('it did not answer within %d s', self::MOST_SECONDS),
            preg_match('~refused|failed to connect|could not connect~i', $message) === 1 => 'nobody listens there',
            default => OneLine::of($message),
        };
    }

    /** Whoever asks anew sees what was added since. */
    public function reset(): void
    {
        $this->knownAt = null;
    }

    /** @return array<string, int> */
    private function known(): array
    {
        $now = $this->clock->now();
        if ($this->knownAt === null || $now->since($this->knownAt)->isAtLeast(Duration::ofMs(self::KNOWN_MS))) {
            $this->versions = $this->webhooks->versions();
            $this->knownAt = $now;
        }

        return $this->versions;
    }
}

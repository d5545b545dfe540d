<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\Limits;
use React\EventLoop\StreamSelectLoop;
use Symfony\Component\HttpClient\CurlHttpClient;
use Symfony\Contracts\HttpClient\ChunkInterface;
use Symfony\Contracts\HttpClient\Exception\TransportExceptionInterface;
use Symfony\Contracts\HttpClient\HttpClientInterface;
use Symfony\Contracts\HttpClient\ResponseInterface;

/**
 * Asks many targets at once over kept connections; each answer comes back whole or as a reason. Whatever one target is
 * configured with or answers stays with it: everything of one request is caught there.
 */
final class Scraper
{
    private const MOST_AT_ONCE = 200;
    /** All answers that are not read yet, together. */
    private const MOST_HELD_BYTES = 250_000_000;
    /** Answers so small are none that fill the memory. */
    private const SMALL_BYTES = 1_000_000;
    /** What comes in at once of one answer: pieces that wait to be looked at are held beside what is counted. */
    private const PIECE_BYTES = 8_192;
    private const TICK_SECONDS = 0.01;
    private readonly HttpClientInterface $client;
    /** @var \SplObjectStorage<ResponseInterface, Scrape> */
    private \SplObjectStorage $running;
    private readonly StreamSelectLoop $loop;
    private readonly HostNames $names;
    /** @var \SplObjectStorage<Scrape, mixed> those of which it is found out where their name leads */
    private \SplObjectStorage $waiting;
    /** @var list<Scrape> ended before they began */
    private array $refused = [];
    private int $heldBytes = 0;

    public function __construct(
        private readonly Credentials $credentials,
        private readonly Reach $reach,
        public Limits $limits,
        private readonly int $mostHeldBytes = self::MOST_HELD_BYTES,
    ) {
        // Where an answer sends us on to is looked at before it is asked.
        $this->client = new CurlHttpClient(
            [
                'http_version' => '1.1',
                'headers' => ['Accept' => Form::ACCEPT, 'User-Agent' => 'Olivine'],
                'max_redirects' => 0,
            ],
            self::MOST_AT_ONCE,
        );
        $this->running = new \SplObjectStorage();
        $this->waiting = new \SplObjectStorage();
        $this->loop = new StreamSelectLoop();
        $this->names = new HostNames($this->loop);
    }

    public function inFlight(): int
    {
        return count($this->running) + count($this->waiting) + count($this->refused);
    }

    /** @return int how many more may be asked at once */
    public function room(): int
    {
        return max(0, self::MOST_AT_ONCE - count($this->running) - count($this->waiting));
    }

    /** @param int|null $dueMs when it was to begin */
    public function start(Target $target, ?int $dueMs = null): void
    {
        $scrape = new Scrape($target, $dueMs);
        try {
            $scrape->address = TargetAddress::of($target->url);
            $scrape->credential = $this->credentials->options($target->credentialFor($scrape->address->origin()));
            $this->ask($scrape, $scrape->address);
        } catch (\Throwable $error) {
            $scrape->fail(self::reason($error));
            $this->refused[] = $scrape;
        }
    }

    /** @throws ScrapeRefused */
    private function ask(Scrape $scrape, TargetAddress $address): void
    {
        $refusal = $this->reach->refuseEarly($address);
        if ($refusal !== null) {
            throw new ScrapeRefused($refusal);
        }
        $scrape->address = $address;
        $this->waiting->attach($scrape);
        // Where the name leads is looked at before anything is sent, and just that address is asked.
        $this->names->addresses($address->host)->then(
            fn(array $ips) => $this->send($scrape, $address, $ips[0]),
            fn(\Throwable $error) => $this->refuse($scrape, self::reason($error)),
        );
    }

    private function send(Scrape $scrape, TargetAddress $address, string $ip): void
    {
        if (!$this->waiting->contains($scrape)) {
            return;
        }
        $left = max(0.1, $scrape->target->timeoutSeconds - (microtime(true) - $scrape->startedAt));
        try {
            $refusal = $this->reach->refuse($ip, $address);
            if ($refusal !== null) {
                throw new ScrapeRefused($refusal);
            }
            $response = $this->client->request('GET', $address->url(), $scrape->credential + [
                'timeout' => $left,
                'max_duration' => $left,
                'buffer' => false,
                'extra' => ['curl' => [CURLOPT_BUFFERSIZE => self::PIECE_BYTES]],
                ...HostNames::pinned($address->host, $ip),
            ]);
            $this->waiting->detach($scrape);
            $scrape->ip = $ip;
            $this->running[$response] = $scrape;
        } catch (\Throwable $error) {
            $this->refuse($scrape, self::reason($error));
        }
    }

    private function refuse(Scrape $scrape, string $reason): void
    {
        if ($this->waiting->contains($scrape)) {
            $this->waiting->detach($scrape);
            $scrape->fail($reason);
            $this->refused[] = $scrape;
        }
    }

    /** One tick of looking names up; a little wait where nothing else is on its way. */
    private function lookUp(): void
    {
        if (count($this->waiting) === 0) {
            return;
        }
        $timer = $this->loop->addTimer(count($this->running) === 0 ? self::TICK_SECONDS : 0.0001, $this->loop->stop(...));
        $this->loop->run();
        $this->loop->cancelTimer($timer);
        foreach (iterator_to_array($this->waiting, false) as $scrape) {
            if (microtime(true) - $scrape->startedAt > $scrape->target->timeoutSeconds) {
                $this->refuse($scrape, sprintf('The name of the host was not found within %d s', $scrape->target->timeoutSeconds));
            }
        }
    }

    /** Lets go of whatever is being asked. */
    public function abandon(): void
    {
        foreach ($this->running as $response) {
            $response->cancel();
        }
        $this->running = new \SplObjectStorage();
        $this->waiting = new \SplObjectStorage();
        $this->refused = [];
        $this->heldBytes = 0;
    }

    /** Asks one target and waits for it. */
    public function once(Target $target): Scrape
    {
        $this->start($target);
        $until = microtime(true) + $target->timeoutSeconds + 1;
        do {
            $scrape = $this->advance(0.2)[0] ?? null;
        } while ($scrape === null && microtime(true) < $until);
        if ($scrape === null) {
            $scrape = new Scrape($target);
            $scrape->fail('No answer in time');
            $this->abandon();
        }

        return $scrape;
    }

    /**
     * Moves everything on for at most this long.
     *
     * @return list<Scrape> those that ended
     */
    public function advance(float $seconds): array
    {
        $ended = [];
        $until = microtime(true) + $seconds;
        do {
            $this->lookUp();
            try {
                $this->listen(max(0.0, min(0.02, $until - microtime(true))), $until, $ended);
            } catch (\Throwable $error) {
                // Nobody knows whose answer that was: all of them are asked again at their next time.
                foreach ($this->running as $response) {
                    $this->end($response, $ended, self::reason($error));
                }
                foreach (iterator_to_array($this->waiting, false) as $scrape) {
                    $this->refuse($scrape, self::reason($error));
                }
                $ended = [...$ended, ...$this->refused];
                $this->abandon();
            }
            $ended = [...$ended, ...$this->refused];
            $this->refused = [];
        } while ($ended === [] && count($this->running) + count($this->waiting) > 0 && microtime(true) < $until);

        return $ended;
    }

    /** @param list<Scrape> $ended grows by those that end */
    private function listen(float $seconds, float $until, array &$ended): void
    {
        foreach ($this->client->stream(iterator_to_array($this->running, false), $seconds) as $response => $chunk) {
            try {
                $isOver = $this->take($response, $chunk);
                if ($isOver) {
                    $this->end($response, $ended);
                }
            } catch (\Throwable $error) {
                $this->end($response, $ended, self::reason($error));
                $response->cancel();
            }
            if ($ended !== [] && microtime(true) >= $until) {
                break;
            }
        }
    }

    /**
     * @return bool whether the answer is whole
     *
     * @throws \Throwable what is wrong with it
     */
    private function take(ResponseInterface $response, ChunkInterface $chunk): bool
    {
        $scrape = $this->running[$response];
        if ($chunk->isTimeout()) {
            if (microtime(true) - $scrape->startedAt > $scrape->target->timeoutSeconds) {
                throw new ScrapeRefused(sprintf('No answer within %d s', $scrape->target->timeoutSeconds));
            }

            return false;
        }
        if ($chunk->isFirst() && !$this->readHead($response, $scrape)) {
            return false;
        }
        $content = $chunk->getContent();
        $scrape->body .= $content;
        $this->heldBytes += strlen($content);
        if (strlen($scrape->body) > $this->limits->bodyBytes) {
            throw new ScrapeRefused(
                sprintf(
                    'The answer is longer than %d MB; split the target, or raise the limit in Setup',
                    intdiv($this->limits->bodyBytes, 1_000_000),
                ),
            );
        }
        if ($this->heldBytes > $this->mostHeldBytes && strlen($scrape->body) > self::SMALL_BYTES) {
            throw new ScrapeRefused(
                sprintf(
                    'All answers on their way together are longer than the %d MB there is room for, and this is one of the long ones',
                    intdiv($this->mostHeldBytes, 1_000_000),
                ),
            );
        }

        return $chunk->isLast();
    }

    /** @param list<Scrape> $ended */
    private function end(ResponseInterface $response, array &$ended, ?string $fault = null): void
    {
        $scrape = $this->running[$response];
        $this->running->detach($response);
        $this->heldBytes -= strlen($scrape->body);
        $scrape->endedAt = microtime(true);
        if ($fault !== null) {
            $scrape->fail($fault);
        }
        $ended[] = $scrape;
    }

    /**
     * @return bool whether this is the answer; else it sent us on, and that is asked instead
     *
     * @throws ScrapeRefused
     */
    private function readHead(ResponseInterface $response, Scrape $scrape): bool
    {
        \assert($scrape->address !== null);
        $scrape->wasHeard = true;
        $refusal = $this->reach->refuse(Scalar::text($response->getInfo('primary_ip')), $scrape->address);
        if ($refusal !== null) {
            throw new ScrapeRefused($refusal);
        }
        $status = $response->getStatusCode();
        if (in_array($status, [301, 302, 303, 307, 308], true)) {
            $this->sendOn($response, $scrape, $scrape->address);

            return false;
        }
        if ($status !== 200) {
            throw new ScrapeRefused("The target answered with status {$status}");
        }
        $scrape->form = Form::ofContentType($response->getHeaders(false)['content-type'][0] ?? '');

        return true;
    }

    /** @throws ScrapeRefused */
    private function sendOn(ResponseInterface $response, Scrape $scrape, TargetAddress $from): void
    {
        if (++$scrape->redirects > Scrape::MOST_REDIRECTS) {
            throw new ScrapeRefused('The target redirects more than three times');
        }
        try {
            $to = $from->redirected($response->getHeaders(false)['location'][0] ?? '');
        } catch (BadAddress $error) {
            throw new ScrapeRefused("The target redirects {$error->getMessage()}");
        }
        // A credential is for the server it was entered for, and for no other side of it.
        if ($to->origin() !== $from->origin() && $scrape->credential !== []) {
            throw new ScrapeRefused(
                "The target redirects to {$to->origin()}, for which its credential was not entered; enter that address itself",
            );
        }
        $this->ask($scrape, $to);
        $this->running->detach($response);
        $response->cancel();
    }

    private static function reason(\Throwable $error): string
    {
        return match (true) {
            $error instanceof ScrapeRefused => $error->getMessage(),
            $error instanceof BadAddress => "The address of the target {$error->getMessage()}",
            $error instanceof TransportExceptionInterface => TransportFault::words($error->getMessage()),
            default => 'This target cannot be asked: ' . mb_substr(OneLine::of($error->getMessage()), 0, 300),
        };
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Entity\Target;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\Limits;
use Symfony\Component\HttpClient\CurlHttpClient;
use Symfony\Contracts\HttpClient\Exception\ExceptionInterface;
use Symfony\Contracts\HttpClient\HttpClientInterface;
use Symfony\Contracts\HttpClient\ResponseInterface;

/** Asks many targets at once over kept connections; each answer comes back whole or as a reason. */
final class Scraper
{
    private const MOST_AT_ONCE = 200;

    private readonly HttpClientInterface $client;
    /** @var \SplObjectStorage<ResponseInterface, Scrape> */
    private \SplObjectStorage $running;
    /** @var list<Scrape> ended before they began */
    private array $refused = [];

    public function __construct(private readonly Credentials $credentials, public Limits $limits)
    {
        $this->client = new CurlHttpClient([
            'http_version' => '1.1',
            'headers' => ['Accept' => Form::ACCEPT, 'User-Agent' => 'Olivine'],
            'max_redirects' => 3,
        ], self::MOST_AT_ONCE);
        $this->running = new \SplObjectStorage();
    }

    public function inFlight(): int
    {
        return count($this->running) + count($this->refused);
    }

    /** @return int how many more may be asked at once */
    public function room(): int
    {
        return max(0, self::MOST_AT_ONCE - count($this->running));
    }

    public function start(Target $target): void
    {
        try {
            $options = $this->credentials->options($target->sealedCredential());
        } catch (ScrapeRefused $error) {
            $scrape = new Scrape($target);
            $scrape->fault = $error->getMessage();
            $scrape->endedAt = microtime(true);
            $this->refused[] = $scrape;

            return;
        }
        $response = $this->client->request('GET', $target->url, $options + [
            'timeout' => $target->timeoutSeconds,
            'max_duration' => $target->timeoutSeconds,
            'buffer' => false,
            // A credential is for the address it was entered for, not for wherever that sends us.
        ] + ($options === [] ? [] : ['max_redirects' => 0]));
        $this->running[$response] = new Scrape($target);
    }

    /** Lets go of whatever is being asked. */
    public function abandon(): void
    {
        foreach ($this->running as $response) {
            $response->cancel();
        }
        $this->running = new \SplObjectStorage();
        $this->refused = [];
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
            $scrape->fault = 'No answer in time';
            $scrape->endedAt = microtime(true);
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
        $ended = $this->refused;
        $this->refused = [];
        $until = microtime(true) + $seconds;
        do {
            $responses = iterator_to_array($this->running, false);
            foreach ($this->client->stream($responses, max(0.0, min(0.02, $until - microtime(true)))) as $response => $chunk) {
                $scrape = $this->running[$response];
                try {
                    if ($chunk->isTimeout()) {
                        if (microtime(true) - $scrape->startedAt > $scrape->target->timeoutSeconds) {
                            throw new ScrapeRefused(sprintf('No answer within %d s', $scrape->target->timeoutSeconds));
                        }
                        continue;
                    }
                    if ($chunk->isFirst()) {
                        $this->readHead($response, $scrape);
                    }
                    $scrape->body .= $chunk->getContent();
                    if (strlen($scrape->body) > $this->limits->bodyBytes) {
                        throw new ScrapeRefused(sprintf('The answer is longer than %d MB; split the target, or raise the limit in Setup', intdiv($this->limits->bodyBytes, 1_000_000)));
                    }
                    if ($chunk->isLast()) {
                        $scrape->endedAt = microtime(true);
                        $ended[] = $scrape;
                        $this->running->detach($response);
                    }
                } catch (ExceptionInterface|ScrapeRefused $error) {
                    $scrape->fault = $error instanceof ScrapeRefused ? $error->getMessage() : self::plain($error->getMessage());
                    $scrape->endedAt = microtime(true);
                    $ended[] = $scrape;
                    $this->running->detach($response);
                    $response->cancel();
                }
                if ($ended !== [] && microtime(true) >= $until) {
                    break;
                }
            }
        } while ($ended === [] && count($this->running) > 0 && microtime(true) < $until);

        return $ended;
    }

    private function readHead(ResponseInterface $response, Scrape $scrape): void
    {
        $status = $response->getStatusCode();
        if ($status !== 200) {
            throw new ScrapeRefused("The target answered with status {$status}");
        }
        $scrape->form = Form::ofContentType($response->getHeaders(false)['content-type'][0] ?? '');
    }

    private static function plain(string $message): string
    {
        return match (true) {
            str_contains($message, 'Connection refused'), str_contains($message, "Couldn't connect"), str_contains($message, 'Failed to connect'), str_contains($message, 'Could not connect') => 'Nothing listens at this address: connection refused',
            str_contains($message, 'timed out'), str_contains($message, 'Max duration'), str_contains($message, 'timeout') => 'No whole answer in time: timed out',
            str_contains($message, 'Empty reply'), str_contains($message, 'reset by peer'), str_contains($message, 'ransfer closed') => 'The target closed the connection without a whole answer',
            str_contains($message, 'resolve host') => 'The name of the host is not known',
            str_contains($message, 'Maximum') && str_contains($message, 'redirect') => 'The target redirects more than three times',
            default => mb_substr(mb_scrub($message), 0, 400),
        };
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\BadAddress;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\HostNames;
use Olivine\App\Collect\Reach;
use Olivine\App\Collect\ScrapeRefused;
use Olivine\App\Collect\TargetAddress;
use Olivine\App\Collect\TransportFault;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Check\Http\HttpAnswer;
use Olivine\Core\Check\Http\HttpCheck;
use Olivine\Core\Check\Http\HttpExchange;
use Olivine\Core\Check\Phases;
use Olivine\Core\Check\Tls\Certificate;
use Olivine\Core\Check\Tls\ReadCertificates;
use React\EventLoop\StreamSelectLoop;
use Symfony\Component\BrowserKit\CookieJar;
use Symfony\Component\HttpClient\CurlHttpClient;
use Symfony\Contracts\HttpClient\ChunkInterface;
use Symfony\Contracts\HttpClient\Exception\TransportExceptionInterface;
use Symfony\Contracts\HttpClient\HttpClientInterface;
use Symfony\Contracts\HttpClient\ResponseInterface;

/**
 * Goes through the steps of HTTP checks, many at once over kept connections. Where a name leads is found out first, and just that
 * address is asked, so that nothing is sent to where Olivine may not ask, whatever a redirect or a name server says.
 */
final class HttpAsker implements Asker
{
    private const MOST_AT_ONCE = 600;
    /** What of an answer is looked at; what is longer is cut. */
    public const LOOKED_AT_BYTES = 1_000_000;
    private const MOST_HELD_BYTES = 200_000_000;
    private const MOST_REDIRECTS = 8;
    private const SENT_ON = [301, 302, 303, 307, 308];
    private const TICK_SECONDS = 0.01;

    private readonly HttpClientInterface $client;
    private readonly StreamSelectLoop $loop;
    private readonly HostNames $names;
    /** @var \SplObjectStorage<ResponseInterface, HttpRun> */
    private \SplObjectStorage $running;
    /** @var \SplObjectStorage<HttpRun, mixed> */
    private \SplObjectStorage $all;
    /** @var list<HttpRun> */
    private array $ended = [];
    private int $heldBytes = 0;

    public function __construct(private readonly Reach $reach, private readonly HttpChecks $checks, ?HostNames $names = null)
    {
        $this->loop = new StreamSelectLoop();
        $this->names = $names ?? new HostNames($this->loop);
        $this->client = new CurlHttpClient(['http_version' => '1.1', 'max_redirects' => 0], self::MOST_AT_ONCE);
        $this->running = new \SplObjectStorage();
        $this->all = new \SplObjectStorage();
    }

    public function made(Target $target, ?int $dueMs, int $place): HttpRun
    {
        return $this->checks->run($target, $dueMs, $place);
    }

    public function room(): int
    {
        return max(0, self::MOST_AT_ONCE - count($this->all));
    }

    public function inFlight(): int
    {
        return count($this->all) + count($this->ended);
    }

    public function start(CheckRun $run): void
    {
        \assert($run instanceof HttpRun);
        $this->all->attach($run);
        $this->goOn($run);
    }

    public function abandon(): void
    {
        foreach ($this->running as $response) {
            $response->cancel();
        }
        foreach ($this->all as $run) {
            ++$run->request;
        }
        $this->running = new \SplObjectStorage();
        $this->all = new \SplObjectStorage();
        $this->ended = [];
        $this->heldBytes = 0;
    }

    public function advance(float $seconds): array
    {
        $until = microtime(true) + $seconds;
        do {
            $this->lookUp();
            try {
                $this->listen($until);
            } catch (\Throwable $error) {
                // Nobody knows whose answer that was.
                foreach (iterator_to_array($this->running, false) as $response) {
                    $this->fail($this->running[$response], self::reason($error));
                }
            }
            $this->giveUp();
        } while ($this->ended === [] && count($this->all) > 0 && microtime(true) < $until);
        $ended = $this->ended;
        $this->ended = [];

        return $ended;
    }

    /** One tick of looking names up; a little wait where nothing else is on its way. */
    private function lookUp(): void
    {
        $timer = count($this->running) === 0 ? $this->loop->addTimer(self::TICK_SECONDS, $this->loop->stop(...)) : null;
        if ($timer === null) {
            $this->loop->futureTick($this->loop->stop(...));
        }
        $this->loop->run();
        if ($timer !== null) {
            $this->loop->cancelTimer($timer);
        }
    }

    private function listen(float $until): void
    {
        if (count($this->running) === 0) {
            return;
        }
        $wait = max(0.0, min(self::TICK_SECONDS, $until - microtime(true)));
        foreach ($this->client->stream(iterator_to_array($this->running, false), $wait) as $response => $chunk) {
            $run = $this->running->offsetExists($response) ? $this->running[$response] : null;
            if ($run === null) {
                continue;
            }
            try {
                $this->take($run, $response, $chunk);
            } catch (\Throwable $error) {
                $this->fail($run, self::reason($error), $error instanceof ScrapeRefused);
            }
            if (microtime(true) >= $until) {
                break;
            }
        }
    }

    private function giveUp(): void
    {
        $now = microtime(true);
        foreach (iterator_to_array($this->all, false) as $run) {
            if ($run->step !== null && ($now - $run->stepAt) * 1000 > $run->step->patienceMs) {
                $where = $run->ip === '' ? 'The name of the host was not found' : 'No whole answer';
                $this->fail($run, sprintf('%s within %s s', $where, round($run->step->patienceMs / 1000, 1)));
            }
        }
    }

    private function goOn(HttpRun $run): void
    {
        $step = $run->check->next($run->known, ...$run->exchanges);
        if ($step === null) {
            $this->end($run);

            return;
        }
        [$run->step, $run->stepAt, $run->via, $run->phases] = [$step, microtime(true), [], new Phases()];
        [$run->method, $run->content] = [$step->method, $step->body];
        try {
            $this->mayCarry($run, $run->check->steps[count($run->exchanges)]->holes(), TargetAddress::of($step->url));
            $this->ask($run, TargetAddress::of($step->url));
        } catch (BadAddress $error) {
            $this->fail($run, "The address {$error->getMessage()}", true);
        } catch (\Throwable $error) {
            $this->fail($run, self::reason($error), true);
        }
    }

    /**
     * @param list<string> $holes
     *
     * @throws ScrapeRefused where a secret would go to a server it was not entered for
     */
    private function mayCarry(HttpRun $run, array $holes, TargetAddress $to): void
    {
        foreach (array_intersect($holes, $run->secrets) as $name) {
            if (!in_array($to->origin(), $run->origins, true)) {
                throw new ScrapeRefused("The secret {$name} was not entered for {$to->origin()}; enter it again");
            }
        }
    }

    /** @throws ScrapeRefused */
    private function ask(HttpRun $run, TargetAddress $address): void
    {
        $refusal = $this->reach->refuseEarly($address);
        if ($refusal !== null) {
            throw new ScrapeRefused($refusal);
        }
        [$run->address, $run->ip, $run->body] = [$address, '', ''];
        $request = ++$run->request;
        $asked = microtime(true);
        $this->names->addresses($address->host)->then(
            function (array $ips) use ($run, $request, $asked, $address): void {
                if ($run->request === $request) {
                    $isLiteral = trim($address->host, '[]') === $ips[0];
                    $run->lookedUp = $isLiteral ? 0.0 : microtime(true) - $asked;
                    $this->connect($run, $address, $ips[0]);
                }
            },
            function (\Throwable $error) use ($run, $request, $asked): void {
                if ($run->request === $request) {
                    $run->phases = $run->phases->and(new Phases(name: microtime(true) - $asked));
                    $this->fail($run, self::reason($error));
                }
            },
        );
    }

    private function connect(HttpRun $run, TargetAddress $address, string $ip): void
    {
        $run->ip = $ip;
        $refusal = $this->reach->refuse($ip, $address);
        if ($refusal !== null || $run->step === null) {
            $this->fail($run, $refusal ?? '', true);

            return;
        }
        $left = max(0.1, $run->step->patienceMs / 1000 - (microtime(true) - $run->stepAt));
        $cookies = self::cookies($run->cookies, $address);
        try {
            $response = $this->client->request($run->method, $address->url(), [
                'headers' => [
                    'User-Agent' => 'Olivine',
                    'Accept' => '*/*',
                    ...$run->step->headers,
                    ...($cookies === '' ? [] : ['Cookie' => $cookies]),
                ],
                'body' => $run->content,
                ...HostNames::pinned($address->host, $ip),
                'timeout' => $left,
                'max_duration' => $left,
                'buffer' => false,
                'capture_peer_cert_chain' => $address->scheme === 'https',
            ]);
        } catch (\Throwable $error) {
            $this->fail($run, self::reason($error), true);

            return;
        }
        $this->running[$response] = $run;
    }

    /** @throws ScrapeRefused */
    private function take(HttpRun $run, ResponseInterface $response, ChunkInterface $chunk): void
    {
        if ($chunk->isTimeout()) {
            return;
        }
        if ($chunk->isFirst()) {
            $ip = Scalar::text($response->getInfo('primary_ip'));
            $refusal = $run->address === null ? '' : $this->reach->refuse($ip, $run->address);
            if ($refusal !== null) {
                throw new ScrapeRefused($refusal);
            }
            $isSentOn = in_array($response->getStatusCode(), self::SENT_ON, true) && $run->step?->follows === true;
            if ($isSentOn && $this->sendOn($run, $response)) {
                return;
            }
        }
        $content = $chunk->getContent();
        $run->body .= $content;
        $this->heldBytes += strlen($content);
        $isCut = strlen($run->body) > self::LOOKED_AT_BYTES || $this->heldBytes > self::MOST_HELD_BYTES;
        if ($isCut || $chunk->isLast()) {
            $this->answered($run, $response, $isCut);
        }
    }

    /**
     * @return bool whether it is asked elsewhere now
     *
     * @throws ScrapeRefused
     */
    private function sendOn(HttpRun $run, ResponseInterface $response): bool
    {
        $location = $response->getHeaders(false)['location'][0] ?? '';
        $from = $run->address;
        if ($from === null || $location === '') {
            return false;
        }
        $this->remember($run, $response);
        $run->via[] = $run->masked($from->url());
        if (count($run->via) > self::MOST_REDIRECTS) {
            $this->fail($run, sprintf('It sends us on more than %d times', self::MOST_REDIRECTS));

            return true;
        }
        try {
            $to = $from->ledTo($location);
        } catch (BadAddress $error) {
            $this->fail($run, "It sends us on {$error->getMessage()}");

            return true;
        }
        if (in_array($response->getStatusCode(), [301, 302, 303], true)) {
            [$run->method, $run->content] = [$run->method === 'HEAD' ? 'HEAD' : 'GET', ''];
        }
        if ($to->origin() !== $from->origin()) {
            $this->cross($run, $to);
        }
        $run->phases = $run->phases->and(self::phases($run, $response));
        $this->letGo($run, $response);
        $this->ask($run, $to);

        return true;
    }

    /**
     * What was filled in is meant for the server it was written for, and for no other that this one names.
     *
     * @throws ScrapeRefused
     */
    private function cross(HttpRun $run, TargetAddress $to): void
    {
        $written = $run->check->steps[count($run->exchanges)];
        if ($run->step === null || $written->holes() === []) {
            return;
        }
        $carries = preg_match('~\{[a-z]~', $written->body) === 1 && $run->content !== '';
        if ($carries) {
            throw new ScrapeRefused("It sends us on to {$to->origin()}, which what is filled in here is not meant for");
        }
        $run->step = $run->step->with(
            array_filter(
                $run->step->headers,
                static fn(string $name): bool => preg_match('~\{[a-z]~', $written->headers[$name] ?? '') !== 1,
                ARRAY_FILTER_USE_KEY,
            ),
        );
    }

    private function remember(HttpRun $run, ResponseInterface $response): void
    {
        $set = $response->getHeaders(false)['set-cookie'] ?? [];
        if ($set !== [] && $run->address !== null) {
            $run->cookies->updateFromSetCookie(array_slice($set, 0, 50), $run->address->url());
        }
    }

    private static function cookies(CookieJar $jar, TargetAddress $address): string
    {
        $pairs = [];
        foreach ($jar->allRawValues($address->url()) as $name => $value) {
            $pairs[] = "{$name}=" . Scalar::text($value);
        }

        return implode('; ', $pairs);
    }

    private function answered(HttpRun $run, ResponseInterface $response, bool $isCut): void
    {
        $step = $run->step;
        if ($step === null) {
            return;
        }
        $this->remember($run, $response);
        $headers = [];
        foreach ($response->getHeaders(false) as $name => $values) {
            foreach ($values as $value) {
                $headers[] = [$name, $value];
            }
        }
        $answer = new HttpAnswer(
            status: $response->getStatusCode(),
            protocol: self::protocol($response),
            headers: $headers,
            body: substr($run->body, 0, self::LOOKED_AT_BYTES),
            documents: $this->checks->documents,
            isCut: $isCut,
            chain: self::chain($response),
        );
        $phases = $run->phases->and(self::phases($run, $response));
        $exchange = new HttpExchange($step, $phases, $answer, via: $run->via, ip: $run->ip, sent: $run->sent());
        $this->letGo($run, $response);
        $run->exchanges[] = $exchange;
        $run->known = [...$run->known, ...HttpCheck::taken($exchange)];
        $this->goOn($run);
    }

    private function fail(HttpRun $run, string $reason, bool $isOurs = false): void
    {
        foreach (iterator_to_array($this->running, false) as $response) {
            if ($this->running[$response] === $run) {
                $run->phases = $run->phases->and(self::phases($run, $response));
                $this->letGo($run, $response);
            }
        }
        if ($run->step !== null) {
            $run->exchanges[] = new HttpExchange($run->step, $run->phases, null, $reason, $isOurs, $run->via, $run->ip, $run->sent());
        }
        $this->end($run);
    }

    private function letGo(HttpRun $run, ResponseInterface $response): void
    {
        $this->heldBytes -= strlen($run->body);
        $run->body = '';
        $this->running->detach($response);
        $response->cancel();
    }

    private function end(HttpRun $run): void
    {
        if (!$this->all->contains($run)) {
            return;
        }
        ++$run->request;
        $run->step = null;
        $run->endedAt = microtime(true);
        $this->all->detach($run);
        $this->ended[] = $run;
    }

    private static function phases(HttpRun $run, ResponseInterface $response): Phases
    {
        $at = static fn(string $name): float => is_numeric($response->getInfo($name)) ? (float) $response->getInfo($name) : 0.0;
        $end = max($at('total_time'), $at('starttransfer_time'));

        return Phases::ofPoints($run->lookedUp, $at('connect_time'), $at('appconnect_time'), $at('starttransfer_time'), $end);
    }

    private static function protocol(ResponseInterface $response): string
    {
        $head = $response->getInfo('response_headers');
        $first = is_array($head) && is_string($head[0] ?? null) ? $head[0] : '';

        return preg_match('~^(HTTP/[\d.]+)~', $first, $part) === 1 ? $part[1] : 'HTTP';
    }

    /** @return list<Certificate> */
    private static function chain(ResponseInterface $response): array
    {
        $chain = $response->getInfo('peer_certificate_chain');
        $shown = array_filter(is_array($chain) ? $chain : [], static fn(mixed $one): bool => $one instanceof \OpenSSLCertificate);

        return array_values(array_filter(array_map(ReadCertificates::read(...), $shown)));
    }

    private static function reason(\Throwable $error): string
    {
        return match (true) {
            $error instanceof ScrapeRefused => $error->getMessage(),
            $error instanceof TransportExceptionInterface => TransportFault::words($error->getMessage()),
            default => 'It cannot be asked: ' . mb_substr(OneLine::of($error->getMessage()), 0, 300),
        };
    }
}

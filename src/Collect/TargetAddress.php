<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

/**
 * The address of a target, whole and plain: http or https, a host, no user, nothing that only some programs can read.
 *
 * By example, `http://Broker-1:9105/metrics?part=queues` has the origin `http://broker-1:9105`; a redirect from it to
 * `/metrics/queues` leads to `http://broker-1:9105/metrics/queues`, one to `//other/` nowhere.
 */
final readonly class TargetAddress
{
    public const EXAMPLE = 'http://web-1:9105/metrics';
    private const LONGEST = 2_000;
    private const PORTS = ['http' => 80, 'https' => 443];

    private function __construct(
        public string $scheme,
        public string $host,
        public int $port,
        public string $path,
        public string $query,
    ) {
    }

    /** @throws BadAddress with what it must be */
    public static function of(string $url): self
    {
        if ($url === '' || strlen($url) > self::LONGEST) {
            throw new BadAddress(
                sprintf(
                    'must be a whole http or https address of at most %d characters, such as %s',
                    self::LONGEST,
                    self::EXAMPLE,
                ),
            );
        }
        if (preg_match('~^[\x21-\x7E]+$~D', $url) !== 1) {
            throw new BadAddress(
                'must not hold spaces, control signs or letters beyond ASCII; write those as %20 and the like, and names of hosts as xn--…',
            );
        }
        $parts = parse_url($url);
        $scheme = strtolower(is_array($parts) ? $parts['scheme'] ?? '' : '');
        $host = strtolower(is_array($parts) ? $parts['host'] ?? '' : '');
        if (!is_array($parts) || !isset(self::PORTS[$scheme]) || !self::isHost($host)) {
            throw new BadAddress('must be a whole http or https address, such as ' . self::EXAMPLE);
        }
        if (isset($parts['user']) || isset($parts['pass'])) {
            throw new BadAddress('must not hold a user or password; enter them as a credential, where they are kept encrypted');
        }
        $port = $parts['port'] ?? self::PORTS[$scheme];
        if ($port < 1) {
            throw new BadAddress('must name a port from 1 to 65535');
        }
        if (preg_match('~%(?![0-9a-f]{2})~i', $url) === 1 || preg_match('~%00~', $url) === 1) {
            throw new BadAddress('must have two hexadecimal digits behind each %, and no %00');
        }

        return new self($scheme, $host, $port, $parts['path'] ?? '/', $parts['query'] ?? '');
    }

    /** Which server it is: a credential is for one of these. */
    public function origin(): string
    {
        return "{$this->scheme}://{$this->host}:{$this->port}";
    }

    public function url(): string
    {
        $port = $this->port === self::PORTS[$this->scheme] ? '' : ":{$this->port}";

        return "{$this->scheme}://{$this->host}{$port}{$this->path}" . ($this->query === '' ? '' : "?{$this->query}");
    }

    /**
     * Where an answer sends us on to, wherever that is.
     *
     * @throws BadAddress in words that go on after "The target redirects"
     */
    public function ledTo(string $location): self
    {
        $location = (string) preg_replace('~#.*$~s', '', trim($location, " \t"));
        if ($location === '') {
            throw new BadAddress('to nowhere');
        }
        $absolute = match (true) {
            preg_match('~^[a-z][a-z0-9+.-]*:~i', $location) === 1 => $location,
            str_starts_with($location, '//') => "{$this->scheme}:{$location}",
            str_starts_with($location, '/') => "{$this->origin()}{$location}",
            str_starts_with($location, '?') => "{$this->origin()}{$this->path}{$location}",
            default => $this->origin() . preg_replace('~[^/]*$~', '', $this->path) . $location,
        };
        try {
            return self::of($absolute);
        } catch (BadAddress) {
            throw new BadAddress('to something that is no address');
        }
    }

    /**
     * Where an answer sends us on to: elsewhere on the same server, or to its https side.
     *
     * @throws BadAddress in words that go on after "The target redirects"
     */
    public function redirected(string $location): self
    {
        $to = $this->ledTo($location);
        $isItsHttps =
            $to->host === $this->host
            && $this->scheme === 'http'
            && $this->port === 80
            && $to->scheme === 'https'
            && $to->port === 443;
        if ($to->origin() !== $this->origin() && !$isItsHttps) {
            throw new BadAddress("to another server, {$to->origin()}; enter that address itself if it is meant");
        }

        return $to;
    }

    private static function isHost(string $host): bool
    {
        if (str_starts_with($host, '[')) {
            return filter_var(trim($host, '[]'), FILTER_VALIDATE_IP, FILTER_FLAG_IPV6) !== false;
        }

        return preg_match(
            '~^(?=.{1,253}$)[a-z0-9_](?:[a-z0-9_-]{0,61}[a-z0-9_])?(?:\.[a-z0-9_](?:[a-z0-9_-]{0,61}[a-z0-9_])?)*\.?$~D',
            $host,
        ) === 1;
    }
}

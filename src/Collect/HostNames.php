<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use React\Dns\Config\Config;
use React\Dns\Model\Message;
use React\Dns\RecordNotFoundException;
use React\Dns\Resolver\Factory;
use React\Dns\Resolver\ResolverInterface;
use React\EventLoop\LoopInterface;
use React\Promise\PromiseInterface;

use function React\Promise\reject;
use function React\Promise\resolve;

/**
 * Where names of hosts lead, asked for without anybody waiting; so that an address is looked at before anything is sent there,
 * and what was looked at is what is asked. As the system is set up: its hosts file, its servers, its search domains.
 */
final class HostNames
{
    private readonly ResolverInterface $resolver;
    /** @var list<string> */
    private readonly array $search;

    public function __construct(LoopInterface $loop, ?Config $config = null)
    {
        $config ??= Config::loadSystemConfigBlocking();
        if ($config->nameservers === []) {
            $config->nameservers[] = '127.0.0.1';
        }
        $this->resolver = (new Factory())->createCached($config, $loop);
        $this->search = self::searchDomains((string) @file_get_contents('/etc/resolv.conf'));
    }

    /**
     * @return PromiseInterface<non-empty-list<string>> addresses; refused with a sentence where there are none
     */
    public function addresses(string $host): PromiseInterface
    {
        $bare = trim($host, '[]');
        if (filter_var($bare, FILTER_VALIDATE_IP) !== false) {
            return resolve([$bare]);
        }
        if ($bare === 'localhost' || str_ends_with($bare, '.localhost')) {
            return resolve(['127.0.0.1']);
        }
        if (str_ends_with($bare, '.')) {
            return $this->first([rtrim($bare, '.')]);
        }

        return $this->first([$bare, ...array_map(static fn(string $domain): string => "{$bare}.{$domain}", $this->search)]);
    }

    /**
     * @param list<string> $names
     *
     * @return PromiseInterface<non-empty-list<string>>
     */
    private function first(array $names): PromiseInterface
    {
        $name = array_shift($names);
        if ($name === null) {
            return reject(new ScrapeRefused('The name of the host is not known'));
        }

        return $this->of($name, Message::TYPE_A)->catch(fn(): PromiseInterface => $this->of($name, Message::TYPE_AAAA))->catch(
            fn(\Throwable $error): PromiseInterface => match (true) {
                $names !== [] => $this->first($names),
                $error instanceof RecordNotFoundException => reject(new ScrapeRefused('The name of the host is not known')),
                default => reject(new ScrapeRefused('The name of the host could not be looked up: no name server answered')),
            },
        );
    }

    /**
     * What holds a request to the address that was looked at; a host that is an address already needs nothing of it.
     *
     * @return array<string, array<string, string>> an option of the HTTP client
     */
    public static function pinned(string $host, string $ip): array
    {
        $bare = trim($host, '[]');

        return $bare === $ip ? [] : ['resolve' => [$bare => $ip]];
    }

    /** @return PromiseInterface<non-empty-list<string>> */
    private function of(string $name, int $type): PromiseInterface
    {
        return $this->resolver->resolveAll($name, $type)->then(static function (array $found): array {
            $addresses = array_values(array_filter($found, is_string(...)));

            return $addresses !== [] ? $addresses : throw new RecordNotFoundException();
        });
    }

    /** @return list<string> */
    private static function searchDomains(string $text): array
    {
        preg_match_all('~^\s*(?:search|domain)\s+(.+)$~m', $text, $lines);
        $last = $lines[1] === [] ? '' : $lines[1][count($lines[1]) - 1];

        return array_slice(preg_split('~\s+~', $last, -1, PREG_SPLIT_NO_EMPTY) ?: [], 0, 6);
    }
}

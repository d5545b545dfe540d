<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Scalar;
use Psr\Cache\CacheItemPoolInterface;

/**
 * Everybody sees the same of what is open, so those who look within a second share one answer, unless something has
 * happened to an incident since: whoever acts sees it at once.
 */
final readonly class SharedLook
{
    private const SHARED_MS = 1_000;
    private const KEPT_SECONDS = 60;

    public function __construct(
        private Trail $trail,
        private CacheItemPoolInterface $cache,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @param callable(): object $look
     *
     * @return string as JSON
     */
    public function of(string $name, callable $look): string
    {
        $now = $this->clock->now()->ms;
        $mark = $this->trail->mark();
        $item = $this->cache->getItem($name);
        $kept = $item->get();
        if (is_array($kept) && $kept['mark'] === $mark && $kept['at'] > $now - self::SHARED_MS) {
            return Scalar::text($kept['json']);
        }
        $json = json_encode($look(), JSON_THROW_ON_ERROR);
        $this->cache->save($item->set(['mark' => $mark, 'at' => $now, 'json' => $json])->expiresAfter(self::KEPT_SECONDS));

        return $json;
    }
}

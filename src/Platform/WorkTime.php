<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Olivine\Core\Formula\Patience;
use Olivine\Core\Formula\TooMuchToRead;
use Symfony\Contracts\Service\ResetInterface;

/**
 * The time that one piece of work may take, by the clock: what was reckoned before it began may have been wrong, or the
 * machine may be busy. Work ends too where nobody waits for it any more.
 */
final class WorkTime implements Patience, ResetInterface
{
    private const LOOK_EVERY_NS = 20_000_000;
    private int $endNs = PHP_INT_MAX;
    private int $lookNs = 0;
    private float $seconds = 0.0;
    /** @var (\Closure(): void)|null throws where nobody waits */
    private ?\Closure $awaited = null;

    public function begin(float $seconds): void
    {
        $this->seconds = $seconds;
        $this->endNs = (int) hrtime(true) + (int) ($seconds * 1e9);
    }

    public function end(): void
    {
        $this->endNs = PHP_INT_MAX;
    }

    /** @param \Closure(): void $awaited asked some times a second; throws where nobody waits any more */
    public function awaitedBy(\Closure $awaited): void
    {
        $this->awaited = $awaited;
    }

    public function reset(): void
    {
        $this->end();
        $this->awaited = null;
    }

    public function goOn(): void
    {
        if ($this->awaited === null && $this->endNs === PHP_INT_MAX) {
            return;
        }
        $now = (int) hrtime(true);
        if ($now < $this->lookNs) {
            return;
        }
        $this->lookNs = $now + self::LOOK_EVERY_NS;
        if ($now >= $this->endNs) {
            $this->end();

            throw new TooMuchToRead(
                sprintf(
                    'This took longer than the %s s that it may; ask for less at once, with where or a shorter span',
                    rtrim(rtrim(sprintf('%.1f', $this->seconds), '0'), '.'),
                ),
            );
        }
        if ($this->awaited !== null) {
            ($this->awaited)();
        }
    }
}

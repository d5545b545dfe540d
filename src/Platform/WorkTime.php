<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Olivine\Core\Formula\Patience;
use Olivine\Core\Formula\TooMuchToRead;
use Symfony\Contracts\Service\ResetInterface;

/**
 * The time that one piece of work may take, by the clock of the processor's owner: what was reckoned before it began may
 * have been wrong, or the machine may be busy. Work ends too where nobody waits for it any more.
 */
final class WorkTime implements Patience, ResetInterface
{
    private const LOOK_EVERY_NS = 20_000_000;
    private int $endNs = PHP_INT_MAX;
    private int $lookNs = PHP_INT_MAX;
    private float $seconds = 0.0;
    /** @var (\Closure(): void)|null throws where nobody waits */
    private ?\Closure $isAwaited = null;

    /** @param (\Closure(): void)|null $isAwaited asked some times a second; throws where nobody waits any more */
    public function begin(float $seconds, ?\Closure $isAwaited = null): void
    {
        $now = (int) hrtime(true);
        $this->seconds = $seconds;
        $this->endNs = $now + (int) ($seconds * 1e9);
        $this->lookNs = $now + self::LOOK_EVERY_NS;
        $this->isAwaited = $isAwaited;
    }

    public function reset(): void
    {
        $this->endNs = $this->lookNs = PHP_INT_MAX;
        $this->isAwaited = null;
    }

    public function goOn(): void
    {
        $now = (int) hrtime(true);
        if ($now < $this->lookNs) {
            return;
        }
        if ($now >= $this->endNs) {
            $this->reset();

            throw new TooMuchToRead(sprintf('This took longer than the %s s that it may; ask for less at once, with where or a shorter span', rtrim(rtrim(sprintf('%.1f', $this->seconds), '0'), '.')));
        }
        $this->lookNs = $now + self::LOOK_EVERY_NS;
        if ($this->isAwaited !== null) {
            ($this->isAwaited)();
        }
    }
}

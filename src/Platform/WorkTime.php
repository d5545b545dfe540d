<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Olivine\Core\Formula\Patience;
use Olivine\Core\Formula\TookTooLong;
use Symfony\Contracts\Service\ResetInterface;

/**
 * The time that one piece of work may take: what was reckoned before it began may have been wrong. Counted is the time that it
 * worked, so that a busy machine refuses nothing that an idle one answers; by the clock it may be three times as long. Work
 * ends too where nobody waits for it any more.
 */
final class WorkTime implements Patience, ResetInterface
{
    private const LOOK_EVERY_NS = 20_000_000;
    private const BY_THE_CLOCK = 3;
    private int $endNs = PHP_INT_MAX;
    private float $endWorked = INF;
    private int $lookNs = 0;
    private float $seconds = 0.0;
    /** @var (\Closure(): void)|null throws where nobody waits */
    private ?\Closure $awaited = null;

    public function begin(float $seconds): void
    {
        $this->seconds = $seconds;
        $this->endNs = (int) hrtime(true) + (int) (self::BY_THE_CLOCK * $seconds * 1e9);
        $this->endWorked = self::workedSeconds() + $seconds;
    }

    public function end(): void
    {
        $this->endNs = PHP_INT_MAX;
        $this->endWorked = INF;
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
        if ($now >= $this->endNs || self::workedSeconds() >= $this->endWorked) {
            $this->end();

            throw new TookTooLong(
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

    private static function workedSeconds(): float
    {
        /** @var array<string, int> $used */
        $used = getrusage();
        $seconds = $used['ru_utime.tv_sec'] + $used['ru_stime.tv_sec'];

        return $seconds + ($used['ru_utime.tv_usec'] + $used['ru_stime.tv_usec']) / 1e6;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

/**
 * How one scrape of a target went, as its rail shows it; kept as a text of the last of them, such as
 * `1764072907+120 1764072922!40`: when it ended, how, and how many milliseconds after its time.
 */
enum Tick: string
{
    /** It answered, and its readings were taken. */
    case Taken = '+';
    /** It did not answer as it should. */
    case Failed = '-';
    /** It answered, but its text could not be read or went past a limit, so all of it was refused. */
    case Refused = '!';
    /** Someone paused it; nothing is missing after this. */
    case Paused = '/';

    public const KEPT = 30;
    private const LONGEST_MS = 999_999;

    /** @param int $afterMs how long after its time it ended: late, slow, or both */
    public function at(int $atMs, int $afterMs = 0): string
    {
        return intdiv($atMs, 1000) . $this->value . ($this === self::Paused ? '' : min(self::LONGEST_MS, max(0, $afterMs)));
    }

    /** @return self|null how the last one of a row went */
    public static function lastOf(string $ticks): ?self
    {
        return preg_match('~\d([^\d ])\d*$~D', $ticks, $found) === 1 ? self::tryFrom($found[1]) : null;
    }

    /** SQL for the ticks of a row with one more behind them. */
    public static function behind(string $tick): string
    {
        return "SUBSTRING_INDEX(CONCAT_WS(' ', NULLIF(ticks, ''), {$tick}), ' ', -" . self::KEPT . ')';
    }
}

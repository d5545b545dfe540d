<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

/** How one scrape of a target went, as its ribbon shows it; kept as a text of the last of them, such as `1764072907+ 1764072922!`. */
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

    public function at(int $atMs): string
    {
        return intdiv($atMs, 1000) . $this->value;
    }

    /** SQL for the ticks of a row with one more behind them. */
    public static function behind(string $tick): string
    {
        return "SUBSTRING_INDEX(CONCAT_WS(' ', NULLIF(ticks, ''), {$tick}), ' ', -" . self::KEPT . ')';
    }
}

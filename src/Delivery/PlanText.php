<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Definition\HoursDefinition;
use Olivine\App\Delivery\Definition\RungDefinition;
use Olivine\App\Delivery\Definition\WhoDefinition;
use Olivine\App\Platform\Problem;
use Olivine\Core\Delivery\Listener;
use Olivine\Core\Formula\Printer;

/**
 * Parts of a plan as one says them, in files and wherever changes are shown: a rung is
 * `on call and team piers by e-mail and pier-hook, then 15m`, hours are `mon-fri 08:00-18:00 Europe/Lisbon except 12-25`.
 */
final readonly class PlanText
{
    public static function who(WhoDefinition $who): string
    {
        return match ($who->listener) {
            Listener::OnCall => $who->name === '' ? 'on call' : 'roster ' . self::quoted($who->name),
            Listener::NextOnRoster => $who->name === '' ? 'next on call' : 'next on roster ' . self::quoted($who->name),
            Listener::Owner => 'owner',
            default => "{$who->listener->value} " . self::quoted($who->name),
        };
    }

    /**
     * @param list<WhoDefinition> $who
     * @param list<string>        $by
     */
    public static function receivers(array $who, array $by): string
    {
        $words = implode(' and ', array_map(self::who(...), $who));
        $through = $by === [] ? '' : 'by ' . implode(' and ', array_map(self::quoted(...), $by));

        return trim("{$words} {$through}");
    }

    public static function rung(RungDefinition $rung, bool $isLast): string
    {
        $then = $isLast && $rung->afterSeconds === 0 ? '' : ', then ' . self::duration($rung->afterSeconds);

        return self::receivers($rung->who, $rung->by) . $then;
    }

    /** A name with blanks stands in quotes. */
    private static function quoted(string $name): string
    {
        return preg_match('~[\s,]~', $name) === 1 ? "\"{$name}\"" : $name;
    }

    /** @return string "" for always */
    public static function hours(?HoursDefinition $hours): string
    {
        try {
            $week = $hours === null ? '' : (new HoursDefinition($hours->stretches, $hours->zone))->core([])->words();
            $except = $hours === null || $hours->off === [] ? '' : ' except ' . implode(', ', $hours->off);

            return "{$week}{$except}";
        } catch (Problem $problem) {
            return $problem->getMessage();
        }
    }

    public static function duration(int $seconds): string
    {
        return Printer::duration($seconds * 1_000);
    }
}

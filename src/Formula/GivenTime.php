<?php

declare(strict_types=1);

namespace Olivine\App\Formula;

use Olivine\App\Platform\Scalar;
use Olivine\Core\Time\Instant;
use Symfony\Component\Console\Input\InputInterface;

/** Times and zones as somebody at a terminal writes them. */
final readonly class GivenTime
{
    private const LAST_SECOND = 1e12;

    /** @throws WrongCall where it is left out or is no time */
    public static function instant(string $name, InputInterface $input): Instant
    {
        $text = Scalar::text($input->getOption($name) ?? throw new WrongCall("Say --{$name}, such as 2026-11-23T03:12:00Z"));
        if (is_numeric($text) && abs((float) $text) < self::LAST_SECOND) {
            return Instant::ofMs((int) round((float) $text * 1000));
        }
        $isOne = preg_match('~^\d{4}-\d{2}-\d{2}~', $text) === 1;
        $read = $isOne ? date_create_immutable($text, new \DateTimeZone('UTC')) : false;

        return $read === false
            ? throw new WrongCall("--{$name} must be seconds since 1970 or a time such as 2026-11-23T03:12:00Z")
            : Instant::ofMs((int) $read->format('Uv'));
    }

    /** @throws WrongCall where it is no zone */
    public static function zone(InputInterface $input): \DateTimeZone
    {
        $name = Scalar::text($input->getOption('zone'));

        return in_array($name, \DateTimeZone::listIdentifiers(), true)
            ? new \DateTimeZone($name)
            : throw new WrongCall("--zone must be one such as Europe/Lisbon; {$name} is none");
    }
}

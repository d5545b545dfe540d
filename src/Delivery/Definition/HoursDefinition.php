<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\ListOf;
use Olivine\App\Platform\Definition\Field\Names;
use Olivine\App\Platform\Problem;
use Olivine\Core\Time\WeekHours;

/** Hours of a week on the clocks of a zone, with days that are none. */
final readonly class HoursDefinition
{
    private const HOLIDAYS = 'holidays';

    /**
     * @param list<StretchDefinition> $stretches
     * @param string                  $zone      such as Europe/Lisbon
     * @param list<string>            $off       days on which none begin: `2026-12-24`, each year `12-25`, and `holidays`: those of the site
     */
    public function __construct(
        #[ListOf(StretchDefinition::class, 1, 20)]
        public array $stretches,
        #[Line(60, 1)]
        public string $zone,
        #[Names(10, 60)]
        public array $off = [],
    ) {
    }

    /**
     * @param list<string> $holidays of the site
     *
     * @throws Problem naming the field
     */
    public function core(array $holidays): WeekHours
    {
        $off = array_diff($this->off, [self::HOLIDAYS]);
        foreach ($off as $day) {
            $isDay = preg_match('~^(?:(\d{4})-)?(\d\d)-(\d\d)$~D', $day, $part) === 1;
            if (!$isDay || !checkdate((int) $part[2], (int) $part[3], $part[1] === '' ? 2_024 : (int) $part[1])) {
                throw Problem::field('off', "off must be days such as 2026-12-24, 12-25 for each year, or holidays; this is {$day}");
            }
        }

        return new WeekHours(
            array_map(static fn(StretchDefinition $one): array => $one->core(), $this->stretches),
            self::zone('zone', $this->zone),
            $off === $this->off ? $this->off : array_values([...$off, ...$holidays]),
        );
    }

    /** @throws Problem naming the field */
    public static function zone(string $field, string $name): \DateTimeZone
    {
        return in_array($name, \DateTimeZone::listIdentifiers(), true) || $name === 'UTC'
            ? new \DateTimeZone($name)
            : throw Problem::field($field, "{$field} must be a time zone such as Europe/Lisbon; there is no {$name}");
    }
}

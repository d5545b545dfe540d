<?php

declare(strict_types=1);

namespace Olivine\Standin\Fleet;

/** One job of the ferry line: when it begins on the clocks at the piers, how long it takes, and when it goes wrong. */
final readonly class TimedJob
{
    private const ZONE = 'Europe/Lisbon';
    private const DAY_MINUTES = 1_440;

    /**
     * @param int                   $everyMinutes it begins at each multiple of it; of the nightly ones a day
     * @param int                   $atMinute     of the day, or of that span
     * @param \Closure(int): int    $takes        second it began → seconds
     * @param \Closure(int): string $wrong        second it begins → what it says as it fails; "" where all is well
     * @param \Closure(int): bool   $missed       second it begins → whether it does not come
     * @param \Closure(int): int    $longer       second it began → so many seconds longer, where it goes wrong
     */
    public function __construct(
        public string $name,
        private int $everyMinutes,
        private int $atMinute,
        private \Closure $takes,
        private \Closure $wrong,
        private \Closure $missed,
        private \Closure $longer,
    ) {
    }

    /** @return list<self> */
    public static function all(): array
    {
        $never = static fn(int $second): bool => false;
        $well = static fn(int $second): string => '';
        $none = static fn(int $second): int => 0;

        return [
            new self(
                'nightly backup',
                self::DAY_MINUTES,
                150,
                static fn(int $t): int => (int) (1_500 + 240 * Noise::hash(intdiv($t, 86_400))),
                $well,
                static fn(int $t): bool => (int) self::wall($t)->format('N') === 1,
                $none,
            ),
            new self(
                'tide import',
                15,
                0,
                static fn(int $t): int => (int) (35 + 15 * Noise::hash($t)),
                static fn(int $t): string => Noise::hash(intdiv($t, 60)) > 0.985 ? "forecast service answered 502\ngiving up after 3 tries\n" : '',
                $never,
                $none,
            ),
            new self('crew rota export', 60, 5, static fn(int $t): int => 3 + (int) (2 * Noise::hash($t) ** 2), $well, $never, $none),
            new self(
                'ticket settlement',
                self::DAY_MINUTES,
                1_395,
                static fn(int $t): int => (int) (480 + 90 * Noise::hash(intdiv($t, 86_400))),
                $well,
                $never,
                static fn(int $t): int => (int) self::wall($t)->format('N') === 5 ? 2_200 : 0,
            ),
        ];
    }

    public function beginsAt(int $second): bool
    {
        $wall = self::wall($second);
        $minute = 60 * (int) $wall->format('G') + (int) $wall->format('i');

        return (int) $wall->format('s') === 2 && $minute % $this->everyMinutes === $this->atMinute;
    }

    public function isMissed(int $second): bool
    {
        return ($this->missed)($second);
    }

    public function seconds(int $began, bool $goesWrong): int
    {
        return ($this->takes)($began) + ($goesWrong ? ($this->longer)($began) : 0);
    }

    public function wrong(int $began): string
    {
        return ($this->wrong)($began);
    }

    private static function wall(int $second): \DateTimeImmutable
    {
        return (new \DateTimeImmutable("@{$second}"))->setTimezone(new \DateTimeZone(self::ZONE));
    }
}

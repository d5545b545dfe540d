<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Answer\SeenMinutes;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Clock;
use Olivine\App\Store\StoredReadings;
use Olivine\Core\Check\Availability;
use Olivine\Core\Formula\Node\LabelOperator;
use Olivine\Core\Formula\Node\LabelTest;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Series\DamagedBlock;

/** How much of the last day a check's service was there, out of its readings. */
final readonly class SeenDays
{
    private const DAY_MS = 86_400_000;

    public function __construct(private StoredReadings $readings, private Clock $clock = new Clock())
    {
    }

    /** @return SeenMinutes|null null where that cannot be read */
    public function last(Target $check): ?SeenMinutes
    {
        $to = $this->clock->now()->ms;
        $from = max($to - self::DAY_MS, $check->createdAt->ms);
        try {
            $runs = $this->byPlace($check, 'check_runs', $from, $to);
            $slow = $this->byPlace($check, 'check_slow', $from, $to);
        } catch (TooMuchToRead|DamagedBlock) {
            return null;
        }
        $seen = Availability::of($runs, $slow, $from, $to, 1000 * $check->intervalSeconds);

        return new SeenMinutes($from, $to, $seen->minutes, $seen->available, $seen->unknown, $seen->slow);
    }

    /**
     * @return list<array<int, float>> of each place: time → value
     *
     * @throws TooMuchToRead
     * @throws DamagedBlock
     */
    private function byPlace(Target $check, string $metric, int $from, int $to): array
    {
        $where = new LabelTest(new Place(0, 0), 'target', LabelOperator::Equals, [$check->name]);
        $places = [];
        foreach ($this->readings->windows(new Select(new Place(0, 0), $metric, $where), $from, $to) as $window) {
            $readings = [];
            foreach ($window->times as $i => $at) {
                $value = $window->values[$i];
                if ($value !== null) {
                    $readings[$at] = $value;
                }
            }
            $places[] = $readings;
        }

        return $places;
    }
}

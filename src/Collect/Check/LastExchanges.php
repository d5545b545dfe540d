<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Answer\LastExchange;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Clock;
use Olivine\App\Store\StoredReadings;
use Olivine\Core\Check\Phases;
use Olivine\Core\Formula\Node\LabelOperator;
use Olivine\Core\Formula\Node\LabelTest;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Series\DamagedBlock;

/** The last exchanges of a check, phase by phase, out of its readings. */
final readonly class LastExchanges
{
    private const MOST = 24;
    /** In how many intervals they are looked for. */
    private const INTERVALS = 26;

    public function __construct(private StoredReadings $readings, private Clock $clock = new Clock())
    {
    }

    /** @return list<LastExchange> the newest first */
    public function of(Target $check): array
    {
        $now = $this->clock->now()->ms;
        $from = $now - self::INTERVALS * 1000 * $check->intervalSeconds;
        $found = [];
        foreach (['check_runs', 'check_partly', 'check_phase_seconds'] as $metric) {
            $where = new LabelTest(new Place(0, 0), 'target', LabelOperator::Equals, [$check->name]);
            try {
                $windows = $this->readings->windows(new Select(new Place(0, 0), $metric, $where), $from, $now);
            } catch (TooMuchToRead|DamagedBlock) {
                return [];
            }
            foreach ($windows as $window) {
                $labels = $window->labels;
                $key = $metric === 'check_phase_seconds' ? $labels->get('phase') : $metric;
                foreach ($window->times as $i => $at) {
                    $value = $window->values[$i];
                    if ($value !== null) {
                        $found[$at][$labels->get('place')][$key] = $value + ($found[$at][$labels->get('place')][$key] ?? 0.0);
                    }
                }
            }
        }
        krsort($found);
        $exchanges = [];
        foreach ($found as $at => $places) {
            foreach ($places as $place => $values) {
                $exchanges[] = new LastExchange(
                    $at,
                    $place,
                    $values['check_runs'] ?? null,
                    ($values['check_partly'] ?? 0.0) > 0.0,
                    new Phases(
                        $values['name'] ?? null,
                        $values['connect'] ?? null,
                        $values['tls'] ?? null,
                        $values['wait'] ?? null,
                        $values['transfer'] ?? null,
                    ),
                );
            }
        }

        return array_slice($exchanges, 0, self::MOST);
    }
}

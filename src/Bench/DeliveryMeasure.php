<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Olivine\App\Delivery\ReplayedAlerts;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Delivery\CourseReplay;
use Olivine\Core\Delivery\Gather;
use Olivine\Core\Delivery\Ladder;
use Olivine\Core\Delivery\Path;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Roster\Handover;
use Olivine\Core\Roster\Roster;
use Olivine\Core\Roster\RosterHistory;
use Olivine\Core\Roster\Rosters;
use Olivine\Core\Roster\Rotation;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\WallTimes;

/** All rules of the demo over the last 30 days, as far as there is history, and what they raised through delivery. */
final readonly class DeliveryMeasure implements Measure
{
    private const DAYS = 30;

    public function __construct(private RunningInstance $demo, private Definitions $definitions, private Clock $clock = new Clock())
    {
    }

    public function name(): string
    {
        return 'delivery';
    }

    /**
     * @throws Problem       where a rule cannot be read
     * @throws BadRule       where one cannot be so
     * @throws FormulaError  where a formula cannot be worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    public function run(callable $say): void
    {
        $database = new Database($this->demo->connect());
        $rules = $this->rules($database);
        $to = $this->clock->now();
        $from = $to->minus(Duration::ofDays(self::DAYS));
        $began = hrtime(true);
        $engine = BenchRules::engine($database);
        $happened = [];
        foreach ($rules as $id => $rule) {
            foreach ($engine->run($rule->core(), [], $from, $to)->transitions as $one) {
                $happened[] = [$id, $one];
            }
        }
        usort($happened, static fn(array $a, array $b): int => $a[1]->transition->at->ms <=> $b[1]->transition->at->ms);
        $ofRules = (hrtime(true) - $began) / 1e6;
        $alerts = new ReplayedAlerts(new CourseReplay(self::configuration()));
        foreach ($happened as [$id, $one]) {
            $transition = $one->transition;
            $key = "{$id} {$one->labels->key()}";
            $alerts->happens($rules[$id], $key, $one->labels, $transition->to, $transition->severity, $transition->at);
        }
        $alerts->replay->passTo($to);
        $say('replay.delivery', (hrtime(true) - $began) / 1e6, 'ms');
        $say('replay.delivery_of_it_rules', $ofRules, 'ms');
        $say('replay.delivery_rules', count($rules), '');
        $say('replay.delivery_transitions', count($happened), '');
        $say('replay.delivery_incidents', count($alerts->replay->courses()), '');
        $oldest = $database->connection->fetchOne('SELECT MIN(from_at) FROM block_time');
        $say('replay.delivery_history', is_numeric($oldest) ? ($to->ms - (float) $oldest) / 86_400_000 : 0, 'd');
    }

    /**
     * @return array<int, RuleDefinition> in service
     *
     * @throws Problem where one cannot be read
     */
    private function rules(Database $database): array
    {
        $sql = 'SELECT r.id, v.definition FROM rule r JOIN rule_revision v ON v.id = r.in_service_id WHERE r.enabled = 1';
        $rules = [];
        foreach ($database->connection->fetchAllKeyValue($sql) as $id => $definition) {
            $read = json_decode(is_string($definition) ? $definition : '', true, 32, JSON_THROW_ON_ERROR);
            $rules[(int) $id] = $this->definitions->read(RuleDefinition::class, (array) $read);
        }

        return $rules;
    }

    private static function configuration(): Configuration
    {
        $path = new Path(
            'everything else',
            null,
            null,
            ['service'],
            Gather::lasting(Duration::ofSeconds(10)),
            Ladder::ofTheRota(Duration::ofMinutes(15)),
            Duration::ofMinutes(10),
        );

        $turns = new Rotation('turns', [1, 2, 3], WallTimes::day('2026-01-05'), Handover::daily(360, 1_080));

        return new Configuration([$path], new Rosters(['turns' => RosterHistory::always(new Roster(new \DateTimeZone('UTC'), [$turns]))]));
    }
}

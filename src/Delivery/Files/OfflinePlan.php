<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

use Olivine\App\Delivery\Definition\PlanDefinition;
use Olivine\App\Delivery\Definition\WhoDefinition;
use Olivine\App\Delivery\Plans;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\Files\RosterFiles;
use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Delivery\Listener;
use Olivine\Core\Delivery\People;

/** Who hears by files alone, without an instance: whoever is named in them is there, by address. */
final readonly class OfflinePlan
{
    /** @param list<string> $addresses of people, who have the numbers from 1 on */
    private function __construct(public Configuration $configuration, private array $addresses)
    {
    }

    /**
     *
     * @throws Problem naming what cannot be so
     */
    public static function of(PlanFiles $files, RosterFiles $rosters, \DateTimeZone $zone): self
    {
        $plan = new PlanDefinition($files->paths, $files->ladders, $files->copies, $files->teams);
        $last = $files->paths[count($files->paths) - 1] ?? null;
        if ($last?->isLast() !== true) {
            throw Problem::field('paths', 'the last path must be everything else, so that nothing falls through');
        }
        $addresses = self::addresses($plan, $rosters->people());
        $ids = array_combine($addresses, array_keys($addresses));
        $ids = array_map(static fn(int $place): int => $place + 1, $ids);
        $teams = [];
        foreach ($files->teams as $team) {
            $teams[$team->name] = array_values(array_intersect_key($ids, array_flip($team->people)));
        }
        $ways = self::ways($plan);

        return new self(
            new Configuration(
                Plans::paths($plan, $zone, []),
                $rosters->core(static fn(string $address): int => $ids[$address]),
                new People($ids, byTeam: $teams),
                ways: $ways,
                copies: Plans::copies($plan, $zone, []),
            ),
            $addresses,
        );
    }

    /** @return string|null their address; null: whoever reads there */
    public function address(int $person): ?string
    {
        return $this->addresses[$person - 1] ?? null;
    }

    /**
     * @param list<string> $named elsewhere
     *
     * @return list<string>
     */
    private static function addresses(PlanDefinition $plan, array $named): array
    {
        foreach ($plan->teams as $team) {
            array_push($named, ...$team->people);
        }
        $who = array_merge(...array_map(static fn($copy): array => $copy->who, $plan->copies), ...[[]]);
        foreach ($plan->ladders as $ladder) {
            foreach ($ladder->rungs as $rung) {
                array_push($who, ...$rung->who);
            }
        }
        $people = array_filter($who, static fn(WhoDefinition $one): bool => $one->listener === Listener::Person);

        return array_values(array_unique([...$named, ...array_map(static fn(WhoDefinition $one): string => $one->name, $people)]));
    }

    /** @return non-empty-list<string> mail, and every channel that is named */
    private static function ways(PlanDefinition $plan): array
    {
        $named = ['e-mail'];
        foreach ($plan->ladders as $ladder) {
            foreach ($ladder->rungs as $rung) {
                array_push($named, ...$rung->by);
            }
        }
        foreach ($plan->copies as $copy) {
            array_push($named, ...$copy->by);
        }

        return array_values(array_unique($named));
    }
}

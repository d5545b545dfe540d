<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Definition\CopyDefinition;
use Olivine\App\Delivery\Definition\LadderDefinition;
use Olivine\App\Delivery\Definition\PlanDefinition;
use Olivine\App\Delivery\Definition\RungDefinition;
use Olivine\App\Delivery\Definition\TeamDefinition;
use Olivine\App\Delivery\Definition\UsedKind;
use Olivine\App\Delivery\Definition\WhoDefinition;
use Olivine\App\Platform\Problem;
use Olivine\Core\Delivery\Listener;

/** Where a plan names somebody or something. */
final readonly class PlanUses
{
    /**
     * @param string $kind of what is looked for: `ladder`, `team`, `person`, `channel`
     *
     * @return list<string> `path boarding`, `rung 2 of ladder piers`, `copy pier room`, `team piers`
     */
    public static function of(PlanDefinition $plan, string $kind, string $name): array
    {
        $uses = [];
        foreach ($kind === PlanPart::Ladder->value ? $plan->paths : [] as $path) {
            if ($path->ladder === $name) {
                $uses[] = "path {$path->name}";
            }
        }
        foreach ($plan->ladders as $ladder) {
            foreach ($ladder->rungs as $i => $rung) {
                if (self::names($rung->who, $rung->by, $kind, $name)) {
                    $uses[] = sprintf('rung %d of ladder %s', $i + 1, $ladder->name);
                }
            }
        }
        foreach ($plan->copies as $copy) {
            if (self::names($copy->who, $copy->by, $kind, $name)) {
                $uses[] = "copy {$copy->name}";
            }
        }
        foreach ($kind === Listener::Person->value ? $plan->teams : [] as $team) {
            if (in_array($name, $team->people, true)) {
                $uses[] = "team {$team->name}";
            }
        }

        return $uses;
    }

    /**
     * The same without it: a rung that has nobody left goes, and so does a copy.
     *
     * @throws Problem 422 where a ladder would have nobody left
     */
    public static function without(PlanDefinition $plan, string $kind, string $name): PlanDefinition
    {
        $ladders = array_map(static fn(LadderDefinition $ladder): LadderDefinition => self::ladderWithout($ladder, $kind, $name), $plan->ladders);
        $copies = [];
        foreach ($plan->copies as $copy) {
            [$who, $by] = self::receiversWithout($copy->who, $copy->by, $kind, $name);
            if ($who !== [] || ($copy->who === [] && $by !== [])) {
                $copies[] = new CopyDefinition($copy->name, $copy->for, $copy->hours, $who, $by, $copy->tell, $copy->at);
            }
        }
        $gone = $kind === Listener::Person->value ? [$name] : [];
        $teams = array_map(
            static fn(TeamDefinition $team): TeamDefinition => new TeamDefinition($team->name, array_values(array_diff($team->people, $gone))),
            $plan->teams,
        );

        return new PlanDefinition($plan->paths, $ladders, $copies, $teams);
    }

    /** @throws Problem */
    private static function ladderWithout(LadderDefinition $ladder, string $kind, string $name): LadderDefinition
    {
        $rungs = [];
        foreach ($ladder->rungs as $rung) {
            [$who, $by] = self::receiversWithout($rung->who, $rung->by, $kind, $name);
            if ($who !== []) {
                $rungs[] = new RungDefinition($who, $by, $rung->afterSeconds);
            }
        }
        if ($rungs === []) {
            throw Problem::field('name', "The ladder {$ladder->name} would have nobody left; put somebody else on it first");
        }

        return new LadderDefinition($ladder->name, $rungs, $ladder->times, $ladder->until);
    }

    /**
     * @param list<WhoDefinition> $who
     * @param list<string>        $by
     *
     * @return array{list<WhoDefinition>, list<string>}
     */
    private static function receiversWithout(array $who, array $by, string $kind, string $name): array
    {
        $stays = static fn(WhoDefinition $one): bool => !self::isOf($one, $kind) || $one->name !== $name;

        return [array_values(array_filter($who, $stays)), $kind === 'channel' ? array_values(array_diff($by, [$name])) : $by];
    }

    /**
     * @param list<WhoDefinition> $who
     * @param list<string>        $by
     */
    private static function names(array $who, array $by, string $kind, string $name): bool
    {
        return $kind === 'channel'
            ? in_array($name, $by, true)
            : array_any($who, static fn(WhoDefinition $one): bool => self::isOf($one, $kind) && $one->name === $name);
    }

    private static function isOf(WhoDefinition $who, string $kind): bool
    {
        return match ($who->listener) {
            Listener::OnCall, Listener::NextOnRoster => $kind === UsedKind::Roster->value,
            default => $who->listener->value === $kind,
        };
    }
}

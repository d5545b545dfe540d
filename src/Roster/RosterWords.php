<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Olivine\App\Roster\Definition\DutyHoursDefinition;
use Olivine\App\Roster\Definition\HandoverDefinition;
use Olivine\App\Roster\Definition\RosterDefinition;
use Olivine\App\Roster\Definition\RotationDefinition;
use Olivine\Core\Time\WeekHours;

/** Parts of a roster as they are written in files: `weekly on mon 08:00`, `mon-fri 22:00-06:00`. */
final readonly class RosterWords
{
    private const WEEK = 7;

    public static function change(HandoverDefinition $change): string
    {
        $first = implode(', ', array_slice($change->at, 0, -1));
        $at = ($first === '' ? '' : "{$first} and ") . implode('', array_slice($change->at, -1));

        return match (true) {
            $change->everyDays === self::WEEK && $change->weekday > 0 => 'weekly on ' . WeekHours::DAYS[$change->weekday - 1] . " {$at}",
            $change->everyDays === 1 => "daily at {$at}",
            default => "every {$change->everyDays} days at {$at}",
        };
    }

    public static function hours(DutyHoursDefinition $hours): string
    {
        $days = $hours->days ?? [];

        return ($days === [] || count($days) === self::WEEK ? '' : WeekHours::dayWords($days) . ' ') . "{$hours->from}-{$hours->to}";
    }

    /** `weekly on mon 08:00`, `every 4 days at 22:00, 22:00-06:00`. */
    public static function rotation(RotationDefinition $rotation): string
    {
        return self::change($rotation->change) . ($rotation->hours === null ? '' : ', ' . self::hours($rotation->hours));
    }

    /**
     * What is otherwise, rotation by rotation: `nights: people Mei-Lin, Sunniva → Mei-Lin, Sunniva, Tomasz`.
     *
     * @param callable(string): string $name of an address
     *
     * @return list<string>
     */
    public static function changes(RosterDefinition $before, RosterDefinition $after, callable $name): array
    {
        $changes = [];
        foreach (['name', 'zone'] as $field) {
            if ($before->{$field} !== $after->{$field}) {
                $changes[] = "{$field} {$before->{$field}} → {$after->{$field}}";
            }
        }
        [$was, $is] = [self::byName($before), self::byName($after)];
        foreach (array_keys(array_diff_key($was, $is)) as $gone) {
            $changes[] = "rotation {$gone} is taken out";
        }
        foreach ($is as $rotation => $now) {
            $former = $was[$rotation] ?? null;
            $changes = [...$changes, ...($former === null ? ["rotation {$rotation} is new"] : self::changesOf((string) $rotation, $former, $now, $name))];
        }
        if (array_keys(array_intersect_key($was, $is)) !== array_keys(array_intersect_key($is, $was))) {
            $changes[] = 'the rotations stand in another order';
        }

        return $changes;
    }

    /**
     * @param callable(string): string $name
     *
     * @return list<string>
     */
    private static function changesOf(string $rotation, RotationDefinition $was, RotationDefinition $is, callable $name): array
    {
        $people = static fn(RotationDefinition $one): string => implode(', ', array_map($name, $one->people));
        $hours = static fn(RotationDefinition $one): string => $one->hours === null ? 'all day' : self::hours($one->hours);
        $changes = [];
        foreach (
            [
                'people' => [$people($was), $people($is)],
                'change' => [self::change($was->change), self::change($is->change)],
                'hours' => [$hours($was), $hours($is)],
                'turns from' => [$was->from, $is->from],
            ] as $field => [$before, $after]
        ) {
            if ($before !== $after) {
                $changes[] = "{$rotation}: {$field} {$before} → {$after}";
            }
        }

        return $changes;
    }

    /** @return array<array-key, RotationDefinition> */
    private static function byName(RosterDefinition $roster): array
    {
        return array_column($roster->rotations, null, 'name');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\ChangedField;
use Olivine\App\Delivery\Answer\PlanChange;
use Olivine\App\Delivery\Definition\NamedDefinition;
use Olivine\App\Delivery\Definition\PathDefinition;
use Olivine\App\Delivery\Definition\PlanDefinition;

/** What is otherwise between two plans, part by part, and both of two people's changes laid over what they began from. */
final readonly class PlanChanges
{
    /** @return list<PlanChange> */
    public static function between(PlanDefinition $was, PlanDefinition $now): array
    {
        $changes = [];
        foreach (PlanPart::cases() as $kind) {
            [$before, $after] = [$kind->of($was), $kind->of($now)];
            foreach ($after as $name => $part) {
                $name = (string) $name;
                $fields = isset($before[$name]) ? self::fields($before[$name], $part) : [];
                if (!isset($before[$name])) {
                    $changes[] = new PlanChange($kind->value, $name, 'added');
                } elseif ($fields !== []) {
                    $changes[] = new PlanChange($kind->value, $name, 'changed', $fields);
                }
            }
            foreach (array_keys(array_diff_key($before, $after)) as $name) {
                $changes[] = new PlanChange($kind->value, (string) $name, 'removed');
            }
        }

        return [...$changes, ...self::moves($was, $now)];
    }

    /**
     * What both changed of the same part is a conflict; else each change is taken. The order of paths is the draft's, with those that
     * came meanwhile before everything else.
     *
     * @return array{PlanDefinition, list<string>} the merged plan, and parts that both changed: `path boarding`
     */
    public static function merged(PlanDefinition $base, PlanDefinition $theirs, PlanDefinition $mine): array
    {
        $merged = $mine;
        $conflicts = [];
        foreach (PlanPart::cases() as $kind) {
            [$was, $there, $here] = [$kind->of($base), $kind->of($theirs), $kind->of($mine)];
            $parts = $here;
            foreach (array_keys($was + $there + $here) as $name) {
                $name = (string) $name;
                [$old, $their, $own] = [self::kept($was[$name] ?? null), self::kept($there[$name] ?? null), self::kept($here[$name] ?? null)];
                if ($their === $old || $their === $own) {
                    continue;
                }
                if ($own !== $old) {
                    $conflicts[] = "{$kind->value} {$name}";
                } elseif (isset($there[$name])) {
                    $parts = self::put($parts, $name, $there[$name], null);
                } else {
                    unset($parts[$name]);
                }
            }
            $merged = $kind->laidInto($merged, $parts);
        }

        return [$merged, $conflicts];
    }

    /**
     * A part in its place; a new one stands before another one, or before everything else, or last.
     *
     * @template T of NamedDefinition
     *
     * @param array<string, T> $parts
     * @param T                $part
     *
     * @return array<string, T>
     */
    public static function put(array $parts, string $name, NamedDefinition $part, ?string $before): array
    {
        if (isset($parts[$name])) {
            return array_replace($parts, [$name => $part]);
        }
        // A name such as 7 is a number as a key.
        $names = array_map(strval(...), array_keys($parts));
        $place = array_search($before ?? PathDefinition::EVERYTHING_ELSE, $names, true);
        $place = $place === false ? count($names) : $place;

        return array_slice($parts, 0, $place, true) + [$name => $part] + array_slice($parts, $place, null, true);
    }

    /** @return list<PlanChange> paths that stand elsewhere among those that are in both */
    private static function moves(PlanDefinition $was, PlanDefinition $now): array
    {
        [$before, $after] = [array_keys(PlanPart::Path->of($was)), array_keys(PlanPart::Path->of($now))];
        $stayed = array_values(array_intersect($before, $after));
        $stay = array_values(array_intersect($after, $before));
        $moves = [];
        foreach ($stay as $place => $name) {
            $former = (int) array_search($name, $stayed, true);
            if ($former > $place) {
                $field = new ChangedField('place', (string) ($former + 1), (string) ($place + 1));
                $moves[] = new PlanChange('path', (string) $name, 'moved', [$field]);
            }
        }

        return $moves;
    }

    /** @return list<ChangedField> */
    private static function fields(NamedDefinition $was, NamedDefinition $now): array
    {
        [$before, $after] = [PlanWords::of($was), PlanWords::of($now)];
        $found = [];
        foreach (array_keys($before + $after) as $field) {
            if (($before[$field] ?? '') !== ($after[$field] ?? '')) {
                $found[] = new ChangedField($field, $before[$field] ?? '', $after[$field] ?? '');
            }
        }

        return $found;
    }

    /** @return array<string, mixed>|null */
    private static function kept(?NamedDefinition $part): ?array
    {
        return $part === null ? null : Plans::kept($part);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

use Olivine\App\Delivery\Definition\NamedDefinition;
use Olivine\App\Delivery\Definition\PathDefinition;
use Olivine\App\Delivery\Definition\PlanDefinition;
use Olivine\App\Delivery\PlanChanges;
use Olivine\App\Delivery\PlanInService;
use Olivine\App\Delivery\PlanPart;
use Olivine\App\Delivery\Plans;
use Olivine\App\Platform\Problem;

/** Holds what files say of who hears against what is in service, and says what would have to be done. */
final readonly class PlanPlanner
{
    public function __construct(private PlanInService $inService, private Plans $plans, private AppliedParts $applied)
    {
    }

    /**
     * @param bool $isWhole these files are all that there is: other parts go
     *
     * @throws Problem naming what could not be so
     */
    public function plan(PlanFiles $files, bool $isWhole): PlannedPlan
    {
        $now = $this->inService->plan()->definition;
        $hand = $this->changedByHand($files, $now);
        $plan = $this->laidOver($now, $files, $isWhole, []);
        $this->plans->check($plan);

        return new PlannedPlan(
            $plan,
            $hand === [] ? $plan : $this->laidOver($now, $files, $isWhole, $hand),
            PlanChanges::between($now, $plan),
            $hand,
            $files->fileOf,
        );
    }

    /** @param list<string> $but parts that stay as they are */
    private function laidOver(PlanDefinition $now, PlanFiles $files, bool $isWhole, array $but): PlanDefinition
    {
        $plan = $now;
        foreach (PlanPart::cases() as $kind) {
            $written = self::of($kind, $files);
            if ($written === []) {
                continue;
            }
            $parts = $kind->of($now);
            $kept = $isWhole ? array_intersect_key($parts, $written + [PathDefinition::EVERYTHING_ELSE => true]) : $parts;
            foreach ($written as $name => $part) {
                if (in_array("{$kind->value} {$name}", $but, true)) {
                    continue;
                }
                $kept = PlanChanges::put($kept, (string) $name, $part, self::nextThere($written, (string) $name, $kept));
            }
            $plan = $kind->laidInto($plan, $kind === PlanPart::Path ? self::inOrder($kept, array_keys($written)) : $kept);
        }

        return $plan;
    }

    /**
     * Where paths of files are in service already, they take the places of one another in the order of the files.
     *
     * @param array<string, NamedDefinition> $parts
     * @param list<string>                   $names in the order of the files
     *
     * @return array<string, NamedDefinition>
     */
    private static function inOrder(array $parts, array $names): array
    {
        $names = array_values(array_filter($names, static fn(string $name): bool => isset($parts[$name]) && $name !== PathDefinition::EVERYTHING_ELSE));
        $ordered = [];
        foreach ($parts as $name => $part) {
            $next = in_array($name, $names, true) ? $names[count(array_intersect(array_keys($ordered), $names))] : $name;
            $ordered[$next] = $parts[$next];
        }

        return $ordered;
    }

    /**
     * @param array<string, NamedDefinition> $written
     * @param array<string, NamedDefinition> $there
     *
     * @return string|null the first of those after it that is there already
     */
    private static function nextThere(array $written, string $name, array $there): ?string
    {
        $names = array_keys($written);
        $after = array_slice($names, (int) array_search($name, $names, true) + 1);

        return array_find($after, static fn(string $one): bool => isset($there[$one]));
    }

    /** @return list<string> parts that are otherwise than when their file was applied last, and than it says now */
    private function changedByHand(PlanFiles $files, PlanDefinition $now): array
    {
        $applied = $this->applied->all();
        $hand = [];
        foreach (PlanPart::cases() as $kind) {
            $there = $kind->of($now);
            foreach (self::of($kind, $files) as $name => $part) {
                $said = $applied["{$kind->value} {$name}"]['said'] ?? null;
                $is = isset($there[$name]) ? Plans::kept($there[$name]) : null;
                if ($said !== null && $is !== $said && $is !== Plans::kept($part)) {
                    $hand[] = "{$kind->value} {$name}";
                }
            }
        }

        return $hand;
    }

    /** @return array<string, NamedDefinition> */
    private static function of(PlanPart $kind, PlanFiles $files): array
    {
        $parts = match ($kind) {
            PlanPart::Path => $files->paths,
            PlanPart::Ladder => $files->ladders,
            PlanPart::Copy => $files->copies,
            PlanPart::Team => $files->teams,
        };

        return array_combine(array_map(static fn(NamedDefinition $part): string => $part->name(), $parts), $parts);
    }
}

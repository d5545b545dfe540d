<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Definition\CopyDefinition;
use Olivine\App\Delivery\Definition\LadderDefinition;
use Olivine\App\Delivery\Definition\NamedDefinition;
use Olivine\App\Delivery\Definition\PathDefinition;
use Olivine\App\Delivery\Definition\PlanDefinition;
use Olivine\App\Delivery\Definition\TeamDefinition;

/** The kinds of parts that a plan has, each with a name of its own. */
enum PlanPart: string
{
    case Path = 'path';
    case Ladder = 'ladder';
    case Copy = 'copy';
    case Team = 'team';

    /** @return class-string<NamedDefinition> */
    public function definition(): string
    {
        return match ($this) {
            self::Path => PathDefinition::class,
            self::Ladder => LadderDefinition::class,
            self::Copy => CopyDefinition::class,
            self::Team => TeamDefinition::class,
        };
    }

    /** @return array<string, PathDefinition|LadderDefinition|CopyDefinition|TeamDefinition> name → part, in order */
    public function of(PlanDefinition $plan): array
    {
        $parts = match ($this) {
            self::Path => $plan->paths,
            self::Ladder => $plan->ladders,
            self::Copy => $plan->copies,
            self::Team => $plan->teams,
        };

        return array_combine(array_map(static fn(NamedDefinition $part): string => $part->name(), $parts), $parts);
    }

    /** @param array<array-key, NamedDefinition> $parts in order; those of another kind are passed over */
    public function laidInto(PlanDefinition $plan, array $parts): PlanDefinition
    {
        return new PlanDefinition(
            $this === self::Path ? array_values(array_filter($parts, static fn(object $one): bool => $one instanceof PathDefinition)) : $plan->paths,
            $this === self::Ladder ? array_values(array_filter($parts, static fn(object $one): bool => $one instanceof LadderDefinition)) : $plan->ladders,
            $this === self::Copy ? array_values(array_filter($parts, static fn(object $one): bool => $one instanceof CopyDefinition)) : $plan->copies,
            $this === self::Team ? array_values(array_filter($parts, static fn(object $one): bool => $one instanceof TeamDefinition)) : $plan->teams,
        );
    }
}

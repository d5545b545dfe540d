<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

use Olivine\App\Delivery\Definition\CopyDefinition;
use Olivine\App\Delivery\Definition\LadderDefinition;
use Olivine\App\Delivery\Definition\PathDefinition;
use Olivine\App\Delivery\Definition\PlanDefinition;
use Olivine\App\Delivery\PlanText;
use Olivine\App\Files\YamlFile;
use Symfony\Component\Yaml\Yaml;

/** A plan as a file says it; what is usual is left out. */
final readonly class PlanFileWriter
{
    private const INLINE_FROM = 4;
    private const INDENT = 2;

    public static function text(PlanDefinition $plan): string
    {
        $held = ['olivine' => YamlFile::VERSION];
        $held['paths'] = array_map(static fn(PathDefinition $path): array => [$path->name => self::path($path)], $plan->paths);
        foreach ($plan->ladders as $ladder) {
            $held['ladders'][$ladder->name] = self::ladder($ladder);
        }
        foreach ($plan->copies as $copy) {
            $held['copies'][$copy->name] = self::copy($copy);
        }
        foreach ($plan->teams as $team) {
            $held['teams'][$team->name] = $team->people;
        }

        return Yaml::dump($held, self::INLINE_FROM, self::INDENT, Yaml::DUMP_COMPACT_NESTED_MAPPING);
    }

    /** @return array<string, string> */
    private static function path(PathDefinition $path): array
    {
        return array_filter([
            'for' => $path->for,
            'hours' => PlanText::hours($path->hours),
            'group' => $path->per === [] ? 'all together' : 'per ' . implode(', ', $path->per),
            'gather' => $path->gatherUntil === [] ? PlanText::duration($path->gatherSeconds) : 'until ' . implode(' or ', $path->gatherUntil),
            'again within' => $path->reopensSeconds === 0 ? 'never' : PlanText::duration($path->reopensSeconds),
            'ladder' => $path->ladder,
        ], static fn(string $words): bool => $words !== '');
    }

    /** @return array<string, mixed> */
    private static function ladder(LadderDefinition $ladder): array
    {
        $last = count($ladder->rungs) - 1;
        $rungs = [];
        foreach ($ladder->rungs as $place => $rung) {
            $rungs[] = PlanText::rung($rung, $place === $last);
        }

        return ['rungs' => $rungs] + ($ladder->times === 1 ? [] : ['times' => $ladder->times]) + ['until' => $ladder->until->value];
    }

    /** @return array<string, mixed> */
    private static function copy(CopyDefinition $copy): array
    {
        return array_filter([
            'for' => $copy->for,
            'hours' => PlanText::hours($copy->hours),
            'to' => PlanText::receivers($copy->who, $copy->by),
            'tell' => $copy->tell,
            'at' => implode(' and ', $copy->at),
        ], static fn(mixed $value): bool => $value !== '');
    }
}

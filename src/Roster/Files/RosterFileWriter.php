<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Files;

use Olivine\App\Files\YamlFile;
use Olivine\App\Roster\Definition\AbsenceDefinition;
use Olivine\App\Roster\Definition\CoverDefinition;
use Olivine\App\Roster\Definition\RosterDefinition;
use Olivine\App\Roster\Definition\RotationDefinition;
use Olivine\App\Roster\RosterWords;
use Symfony\Component\Yaml\Yaml;

/** Rosters as a file says them. */
final readonly class RosterFileWriter
{
    private const INLINE_FROM = 5;
    private const INDENT = 2;

    /** @param array<array-key, RosterDefinition> $rosters by name */
    public static function text(array $rosters): string
    {
        $held = ['olivine' => YamlFile::VERSION];
        foreach ($rosters as $name => $roster) {
            $rotations = array_column(array_map(self::rotation(...), $roster->rotations), 1, 0);
            $covers = array_map(static fn(CoverDefinition $one): string => $one->words(), $roster->covers);
            $away = array_map(static fn(AbsenceDefinition $one): string => "{$one->person} from {$one->from} to {$one->to}", $roster->away);
            $spans = array_filter(['covers' => $covers, 'away' => $away], static fn(array $lines): bool => $lines !== []);
            $held['rosters'][$name] = ['zone' => $roster->zone, 'rotations' => $rotations] + $spans;
        }

        return Yaml::dump($held, self::INLINE_FROM, self::INDENT, Yaml::DUMP_COMPACT_NESTED_MAPPING);
    }

    /** @return array{string, array<string, mixed>} name, and the rest */
    private static function rotation(RotationDefinition $one): array
    {
        $hours = $one->hours === null ? [] : ['hours' => RosterWords::hours($one->hours)];

        return [$one->name, ['people' => $one->people, 'from' => $one->from, 'change' => RosterWords::change($one->change)] + $hours];
    }
}

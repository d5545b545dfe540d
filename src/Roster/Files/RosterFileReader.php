<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Files;

use Olivine\App\Files\BadFiles;
use Olivine\App\Files\FileFault;
use Olivine\App\Files\Kinds;
use Olivine\App\Files\YamlFile;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\Definition\AbsenceDefinition;
use Olivine\App\Roster\Definition\CoverDefinition;
use Olivine\App\Roster\Definition\RosterDefinition;
use Olivine\Core\Time\WallTimes;

/** Rosters of files, with each fault at its place. */
final readonly class RosterFileReader
{
    private const ROSTER = ['zone', 'rotations', 'covers', 'away'];
    private const ROTATION = ['people', 'from', 'change', 'hours'];
    /** Field of a definition → the key it is written at. */
    private const KEY_OF = ['at' => 'change', 'weekday' => 'change', 'everyDays' => 'change', 'to' => 'hours', 'days' => 'hours'];

    public function __construct(private Definitions $definitions)
    {
    }

    /**
     * @param list<YamlFile> $files
     *
     * @throws BadFiles where something is wrong in them
     */
    public function whole(array $files): RosterFiles
    {
        $read = $this->read($files);

        return $read->faults === [] ? $read : throw new BadFiles($read->faults);
    }

    /** @param list<YamlFile> $files */
    public function read(array $files): RosterFiles
    {
        $rosters = $fileOf = [];
        foreach ($files as $file) {
            foreach ($file->things(Kinds::ROSTERS) as $key => $written) {
                $path = [Kinds::ROSTERS, (string) $key];
                if (isset($rosters[$key])) {
                    $file->fault($path, "there is a roster {$key} already");
                    continue;
                }
                $roster = $this->roster($file, $path, (string) $key, $written);
                if ($roster !== null) {
                    $rosters[$key] = $roster;
                    $fileOf[$roster->name] = $file->name;
                }
            }
        }
        $faults = array_merge(...array_map(static fn(YamlFile $file): array => $file->faults(), $files), ...[[]]);
        usort($faults, static fn(FileFault $a, FileFault $b): int => [$a->file, $a->line] <=> [$b->file, $b->line]);

        return new RosterFiles(array_values($rosters), $faults, $fileOf);
    }

    /**
     * One that is wrong stops none of the others.
     *
     * @param list<string> $path
     */
    private function roster(YamlFile $file, array $path, string $name, mixed $written): ?RosterDefinition
    {
        $before = count($file->faults());
        $map = $file->map($path, $written);
        $file->refuseUnknown($path, $map, self::ROSTER);
        $rotations = [];
        foreach ($file->map([...$path, 'rotations'], $map['rotations'] ?? []) as $key => $rotation) {
            $rotations[] = $this->rotation($file, [...$path, 'rotations', (string) $key], (string) $key, $rotation);
        }
        $fields = [
            'name' => $name,
            'zone' => $map['zone'] ?? '',
            'rotations' => $rotations,
            'covers' => $this->lines($file, [...$path, 'covers'], $map['covers'] ?? [], RosterTextReader::cover(...)),
            'away' => $this->lines($file, [...$path, 'away'], $map['away'] ?? [], RosterTextReader::absence(...)),
        ];
        if (count($file->faults()) > $before) {
            return null;
        }
        try {
            $roster = $this->definitions->read(RosterDefinition::class, $fields);
            $roster->core(static fn(string $address): int => 1);

            return $roster;
        } catch (Problem $fault) {
            $field = is_string($fault->more['field'] ?? null) ? $fault->more['field'] : '';
            $file->fault([...$path, $field], $fault->getMessage());

            return null;
        }
    }

    /**
     * @param list<string> $path
     *
     * @return array<string, mixed>
     */
    private function rotation(YamlFile $file, array $path, string $name, mixed $written): array
    {
        $map = $file->map($path, $written);
        $file->refuseUnknown($path, $map, self::ROTATION);
        $change = is_string($map['change'] ?? null) ? $map['change'] : '';
        $hours = $map['hours'] ?? null;
        // A day without quotes is a day to YAML too, and comes as an instant.
        $from = is_int($map['from'] ?? null) ? gmdate('Y-m-d', $map['from']) : $map['from'] ?? '';
        $fields = [
            'name' => $name,
            'people' => $map['people'] ?? [],
            'from' => $from,
            'change' => self::plain($file->said([...$path, 'change'], $change, RosterTextReader::change(...))),
            'hours' => is_string($hours) ? self::plain($file->said([...$path, 'hours'], $hours, RosterTextReader::hours(...))) : null,
        ];
        if ($hours !== null && !is_string($hours)) {
            $file->fault([...$path, 'hours'], 'hours must be words, such as 22:00-06:00 or sat+sun 08:00-22:00');
        }

        return $this->checked($file, $path, array_filter($fields, static fn(mixed $value): bool => $value !== null));
    }

    /**
     * So that a fault stands at its rotation.
     *
     * @param list<string>         $path
     * @param array<string, mixed> $fields
     *
     * @return array<string, mixed>
     */
    private function checked(YamlFile $file, array $path, array $fields): array
    {
        if (!isset($fields['change'])) {
            return $fields;
        }
        try {
            $alone = ['name' => 'alone', 'zone' => 'UTC', 'rotations' => [$fields]];
            $this->definitions->read(RosterDefinition::class, $alone)->core(static fn(string $address): int => 1);
        } catch (Problem $fault) {
            $field = is_string($fault->more['field'] ?? null) ? $fault->more['field'] : '';
            $file->fault([...$path, self::KEY_OF[$field] ?? $field], $fault->getMessage());
        }

        return $fields;
    }

    /**
     * @param list<string>                                          $path
     * @param callable(string): (CoverDefinition|AbsenceDefinition) $reader
     *
     * @return list<array<string, mixed>|null>
     */
    private function lines(YamlFile $file, array $path, mixed $written, callable $reader): array
    {
        if (!is_array($written) || !array_is_list($written) || array_filter($written, is_string(...)) !== $written) {
            $file->fault($path, 'this must be a list of words, such as - ines@saltmarsh.example from 2026-12-02 08:00 to 2026-12-05 08:00');

            return [];
        }
        $read = [];
        foreach ($written as $place => $words) {
            $line = $file->said([...$path, (string) $place], $words, $reader);
            try {
                $line?->core(static fn(string $address): int => 1, new WallTimes(new \DateTimeZone('UTC')));
            } catch (Problem $fault) {
                $file->fault([...$path, (string) $place], $fault->getMessage());
            }
            $read[] = self::plain($line);
        }

        return $read;
    }

    /** @return array<string, mixed>|null */
    private static function plain(?object $definition): ?array
    {
        /** @var array<string, mixed>|null */
        return $definition === null ? null : json_decode(json_encode($definition, JSON_THROW_ON_ERROR), true, 16, JSON_THROW_ON_ERROR);
    }
}

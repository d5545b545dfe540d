<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

use Olivine\App\Delivery\Definition\CopyDefinition;
use Olivine\App\Delivery\Definition\LadderDefinition;
use Olivine\App\Delivery\Definition\NamedDefinition;
use Olivine\App\Delivery\Definition\PathDefinition;
use Olivine\App\Delivery\Definition\RungDefinition;
use Olivine\App\Delivery\Definition\TeamDefinition;
use Olivine\App\Delivery\PlanPart;
use Olivine\App\Files\BadFiles;
use Olivine\App\Files\FileFault;
use Olivine\App\Files\Kinds;
use Olivine\App\Files\YamlFile;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;

/** Paths, ladders, copies and teams of files, with each fault at its place. */
final readonly class PlanFileReader
{
    private const PATH = ['for', 'hours', 'group', 'gather', 'again within', 'ladder'];
    private const LADDER = ['rungs', 'times', 'until'];
    private const COPY = ['for', 'hours', 'to', 'tell', 'at'];
    /** Field of a definition → the key it is written at. */
    private const KEY_OF = [
        'per' => 'group',
        'gatherSeconds' => 'gather',
        'gatherUntil' => 'gather',
        'reopensSeconds' => 'again within',
        'who' => 'to',
        'by' => 'to',
        'zone' => 'hours',
        'off' => 'hours',
        'days' => 'hours',
        'from' => 'hours',
        'stretches' => 'hours',
    ];

    public function __construct(private Definitions $definitions)
    {
    }

    /**
     * @param list<YamlFile> $files
     *
     * @throws BadFiles where something is wrong in them
     */
    public function whole(array $files): PlanFiles
    {
        $read = $this->read($files);

        return $read->faults === [] ? $read : throw new BadFiles($read->faults);
    }

    /** @param list<YamlFile> $files */
    public function read(array $files): PlanFiles
    {
        $found = ['path' => [], 'ladder' => [], 'copy' => [], 'team' => []];
        $fileOf = [];
        foreach ($files as $file) {
            foreach ($file->itemsOf(Kinds::PATHS) as [$path, $key, $written]) {
                $this->add($found, $fileOf, $file, PlanPart::Path, $path, $key, fn(): array => $this->path($file, $path, $written));
            }
            foreach ([[Kinds::LADDERS, PlanPart::Ladder], [Kinds::COPIES, PlanPart::Copy], [Kinds::TEAMS, PlanPart::Team]] as [$kind, $part]) {
                foreach ($file->things($kind) as $key => $written) {
                    $path = [$kind, (string) $key];
                    $this->add($found, $fileOf, $file, $part, $path, (string) $key, fn(): array => match ($part) {
                        PlanPart::Ladder => $this->ladder($file, $path, $written),
                        PlanPart::Copy => $this->copy($file, $path, $written),
                        default => $this->team($file, $path, $written),
                    });
                }
            }
        }
        $faults = array_merge(...array_map(static fn(YamlFile $file): array => $file->faults(), $files), ...[[]]);
        usort($faults, static fn(FileFault $a, FileFault $b): int => [$a->file, $a->line] <=> [$b->file, $b->line]);

        return new PlanFiles(
            self::of(PathDefinition::class, $found['path']),
            self::of(LadderDefinition::class, $found['ladder']),
            self::of(CopyDefinition::class, $found['copy']),
            self::of(TeamDefinition::class, $found['team']),
            $fileOf,
            $faults,
        );
    }

    /**
     * One thing that is wrong stops none of the others.
     *
     * @param array<string, array<string, NamedDefinition>> $found
     * @param array<string, string>                         $fileOf
     * @param list<string>                                  $path
     * @param \Closure(): array<string, mixed>              $fields
     */
    private function add(array &$found, array &$fileOf, YamlFile $file, PlanPart $kind, array $path, string $key, \Closure $fields): void
    {
        if (isset($found[$kind->value][$key])) {
            $file->fault($path, "there is a {$kind->value} {$key} in {$fileOf["{$kind->value} {$key}"]} already");

            return;
        }
        $before = count($file->faults());
        $written = $fields();
        if (count($file->faults()) > $before) {
            return;
        }
        try {
            $found[$kind->value][$key] = $this->definitions->read($kind->definition(), ['name' => $key] + $written);
            $fileOf["{$kind->value} {$key}"] = $file->name;
        } catch (Problem $fault) {
            $field = is_string($fault->more['field'] ?? null) ? $fault->more['field'] : '';
            $file->fault([...$path, self::KEY_OF[$field] ?? $field], $fault->getMessage());
        }
    }

    /**
     * @param list<string> $path
     *
     * @return array<string, mixed>
     */
    private function path(YamlFile $file, array $path, mixed $written): array
    {
        $written = self::words($file, $path, $written, self::PATH);
        $gather = $written['gather'] ?? '10s';
        $isUntil = str_starts_with($gather, 'until ');
        $reopens = $written['again within'] ?? '10m';

        return array_filter([
            'ladder' => $written['ladder'] ?? '',
            'for' => $written['for'] ?? '',
            'hours' => $this->hours($file, $path, $written),
            'per' => self::labels($file, $path, $written['group'] ?? ''),
            'gatherSeconds' => $isUntil ? 10 : $file->said([...$path, 'gather'], $gather, PlanTextReader::seconds(...)),
            'gatherUntil' => $isUntil ? $file->said([...$path, 'gather'], $gather, PlanTextReader::untilTimes(...)) : [],
            'reopensSeconds' => $reopens === 'never' ? 0 : $file->said([...$path, 'again within'], $reopens, PlanTextReader::seconds(...)),
        ], static fn(mixed $value): bool => $value !== null);
    }

    /**
     * @param list<string> $path
     *
     * @return array<string, mixed>
     */
    private function ladder(YamlFile $file, array $path, mixed $written): array
    {
        $written = $file->map($path, $written);
        $file->refuseUnknown($path, $written, self::LADDER);
        $rungs = $written['rungs'] ?? [];
        if (!is_array($rungs) || !array_is_list($rungs) || array_filter($rungs, is_string(...)) !== $rungs) {
            $file->fault([...$path, 'rungs'], 'rungs must be a list of words, such as - on call by e-mail, then 15m');

            return [];
        }
        $read = [];
        foreach ($rungs as $place => $words) {
            $rung = $file->said([...$path, 'rungs', (string) $place], $words, PlanTextReader::rung(...));
            $read[] = $rung instanceof RungDefinition ? self::plain($rung) : [];
        }

        return ['rungs' => $read, 'times' => $written['times'] ?? 1, 'until' => $written['until'] ?? 'acknowledged'];
    }

    /**
     * @param list<string> $path
     *
     * @return array<string, mixed>
     */
    private function copy(YamlFile $file, array $path, mixed $written): array
    {
        $map = $file->map($path, $written);
        $tell = (array) ($map['tell'] ?? ['opened', 'resolved']);
        $words = self::words($file, $path, array_diff_key($map, ['tell' => 1]), self::COPY);
        $to = $file->said([...$path, 'to'], $words['to'] ?? '', PlanTextReader::receivers(...));
        [$who, $by] = is_array($to) ? $to : [[], []];
        $at = ($words['at'] ?? '') === '' ? [] : $file->said([...$path, 'at'], $words['at'] ?? '', PlanTextReader::times(...));

        return array_filter([
            'for' => $words['for'] ?? '',
            'hours' => $this->hours($file, $path, $words),
            'who' => array_map(self::plain(...), $who),
            'by' => $by,
            'tell' => array_values($tell),
            'at' => $at,
        ], static fn(mixed $value): bool => $value !== null);
    }

    /**
     * @param list<string> $path
     *
     * @return array<string, mixed>
     */
    private function team(YamlFile $file, array $path, mixed $written): array
    {
        if (!is_array($written) || !array_is_list($written)) {
            $file->fault($path, 'a team is a list of addresses');

            return [];
        }

        return ['people' => $written];
    }

    /**
     * @param list<string>          $path
     * @param array<string, string> $written
     *
     * @return array<string, mixed>|null
     */
    private function hours(YamlFile $file, array $path, array $written): ?array
    {
        $hours = isset($written['hours']) ? $file->said([...$path, 'hours'], $written['hours'], PlanTextReader::hours(...)) : null;

        return is_object($hours) ? self::plain($hours) : null;
    }

    /**
     * @param list<string> $path
     *
     * @return list<string>
     */
    private static function labels(YamlFile $file, array $path, string $group): array
    {
        if ($group === '' || $group === 'all together') {
            return [];
        }
        if (!str_starts_with($group, 'per ')) {
            $file->fault([...$path, 'group'], 'group must be per with labels, such as per service, site; or all together');

            return [];
        }

        return array_values(array_filter(array_map(trim(...), explode(',', substr($group, 4))), static fn(string $one): bool => $one !== ''));
    }

    /**
     * @param list<string> $path
     * @param list<string> $keys
     *
     * @return array<string, string>
     */
    private static function words(YamlFile $file, array $path, mixed $written, array $keys): array
    {
        $map = $file->map($path, $written);
        $file->refuseUnknown($path, $map, $keys);
        $words = [];
        foreach ($map as $key => $value) {
            if (is_scalar($value)) {
                $words[(string) $key] = (string) $value;
            } elseif (in_array((string) $key, $keys, true)) {
                $file->fault([...$path, (string) $key], "{$key} must be words");
            }
        }

        return $words;
    }

    /** @return array<string, mixed> */
    private static function plain(object $definition): array
    {
        /** @var array<string, mixed> */
        return json_decode(json_encode($definition, JSON_THROW_ON_ERROR), true, 16, JSON_THROW_ON_ERROR);
    }

    /**
     * @template T of NamedDefinition
     *
     * @param class-string<T>                $class
     * @param array<string, NamedDefinition> $found
     *
     * @return list<T>
     */
    private static function of(string $class, array $found): array
    {
        return array_values(array_filter($found, static fn(NamedDefinition $one): bool => $one instanceof $class));
    }
}

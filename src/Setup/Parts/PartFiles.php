<?php

declare(strict_types=1);

namespace Olivine\App\Setup\Parts;

use Olivine\App\Delivery\Files\AppliedParts;
use Olivine\App\Files\BadFiles;
use Olivine\App\Files\FileFault;
use Olivine\App\Files\Keep;
use Olivine\App\Files\YamlFile;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Problem;
use Symfony\Component\DependencyInjection\Attribute\AutowireIterator;

/** Channels, templates, mutes and actions of files: read, held against what is there, and put there. What is in no file is left alone. */
final readonly class PartFiles
{
    /** In this order they are put there: what names others after these. */
    private const ORDER = ['channel', 'action', 'template', 'mute'];

    /** @var list<FilePart> */
    private array $kinds;

    /** @param iterable<FilePart> $kinds */
    public function __construct(#[AutowireIterator(FilePart::class)] iterable $kinds, private AppliedParts $applied)
    {
        $sorted = [...$kinds];
        usort($sorted, static fn(FilePart $a, FilePart $b): int => array_search($a->word(), self::ORDER, true) <=> array_search($b->word(), self::ORDER, true));
        $this->kinds = $sorted;
    }

    /**
     * @param list<YamlFile> $files
     *
     * @throws BadFiles where something is wrong in them
     */
    public function plan(array $files): PlannedParts
    {
        $applied = $this->applied->all();
        $parts = $changes = $new = $hand = [];
        foreach ($this->kinds as $kind) {
            $there = $kind->now();
            foreach ($this->read($kind, $files, $there) as $part) {
                $parts[] = $part;
                $now = $there[$part->name] ?? null;
                $said = $applied[$part->words()]['said'] ?? null;
                if ($now === null && !$this->saysSomething($part)) {
                    continue;
                }
                $differs = $now === null ? [] : self::differing($now, $part->written);
                if ($now === null) {
                    $new[] = $part->words();
                }
                if ($now === null || $differs !== []) {
                    $changes[$part->words()] = $differs;
                }
                // Also what somebody took away by hand is not put there again unasked.
                if ($said !== null && ($now === null || ($differs !== [] && self::differing($now, self::plain($said)) !== []))) {
                    $hand[] = $part->words();
                }
            }
        }
        $faults = array_merge(...array_map(static fn(YamlFile $file): array => $file->faults(), $files), ...[[]]);
        usort($faults, static fn(FileFault $a, FileFault $b): int => [$a->file, $a->line] <=> [$b->file, $b->line]);

        return $faults === [] ? new PlannedParts($parts, $changes, $new, $hand) : throw new BadFiles($faults);
    }

    /** @throws Problem where something was changed by hand and nobody says which is meant */
    public static function refuse(PlannedParts $planned, ?Keep $keep): void
    {
        if ($planned->hand !== [] && $keep === null) {
            $names = implode(', ', $planned->hand);
            throw new Problem(409, "Changed by hand since the last apply: {$names}. Say which is meant: --keep hand or --keep file");
        }
    }

    /**
     * @param list<string> $only words of the kinds that are meant
     *
     * @throws Problem where something cannot be so
     */
    public function apply(PlannedParts $planned, ?Keep $keep, ?Person $author, array $only = self::ORDER): void
    {
        self::refuse($planned, $keep);
        $applied = $this->applied->all();
        foreach ($planned->parts as $part) {
            if (!in_array($part->of->word(), $only, true)) {
                continue;
            }
            $staysByHand = $keep === Keep::Hand && in_array($part->words(), $planned->hand, true);
            if (isset($planned->changes[$part->words()]) && !$staysByHand) {
                $this->put($part, $author);
            }
            $applied[$part->words()] = ['file' => mb_substr($part->file->name, -255), 'said' => $part->written];
        }
        $this->applied->keep($applied);
    }

    /**
     * Only what is otherwise than where nobody says so.
     *
     * @return array<string, array<string, array<string, string|int|float|bool>>> kind → what is there, as files say it
     */
    public function now(): array
    {
        $now = [];
        foreach ($this->kinds as $kind) {
            $unsaid = array_map(self::comparable(...), $kind->keys());
            foreach ($kind->now() as $name => $written) {
                $isOther = array_diff_assoc(array_map(self::comparable(...), $written), $unsaid);
                $now[$kind->kind()][$name] = array_filter(array_intersect_key($written, $isOther), self::maySay(...), ARRAY_FILTER_USE_BOTH);
            }
        }

        return $now;
    }

    /**
     * @param list<YamlFile>                                      $files
     * @param array<string, array<string, string|int|float|bool>> $there
     *
     * @return list<WrittenPart> one that is wrong stops none of the others
     */
    private function read(FilePart $kind, array $files, array $there): array
    {
        $read = [];
        foreach ($files as $file) {
            foreach ($file->things($kind->kind()) as $key => $written) {
                $path = [$kind->kind(), (string) $key];
                if (isset($read[$key])) {
                    $file->fault($path, "there is a {$kind->word()} {$key} already");
                    continue;
                }
                $part = $this->part($kind, $file, $path, $written, $there[$key] ?? []);
                if ($part !== null) {
                    $read[$key] = $part;
                }
            }
        }

        return array_values($read);
    }

    /**
     * @param list<string>                         $path
     * @param array<string, string|int|float|bool> $there as it is now; empty: it is not
     */
    private function part(FilePart $kind, YamlFile $file, array $path, mixed $written, array $there): ?WrittenPart
    {
        $name = $path[1];
        $before = count($file->faults());
        $map = $file->map($path, $written);
        $file->refuseUnknown($path, $map, array_keys($kind->keys()));
        foreach ($map as $key => $value) {
            if (!is_scalar($value)) {
                $file->fault([...$path, (string) $key], "{$key} must be one value");
            }
        }
        if (count($file->faults()) > $before) {
            return null;
        }
        $whole = self::plain($map) + array_intersect_key($there, array_flip($kind->staying())) + $kind->keys();
        try {
            $kind->check($name, $whole);
        } catch (Problem $fault) {
            $field = is_string($fault->more['field'] ?? null) ? $fault->more['field'] : '';
            $key = $kind->keyOf()[$field] ?? $field;
            $said = $fault->getMessage();
            $file->fault([...$path, $key], str_starts_with($said, $field) ? $key . substr($said, strlen($field)) : $said);

            return null;
        }

        return new WrittenPart($kind, $name, $whole, $file);
    }

    /** @throws Problem with where it is written */
    private function put(WrittenPart $part, ?Person $author): void
    {
        try {
            $part->of->put($part->name, $part->written, $author);
        } catch (Problem $problem) {
            $line = $part->file->lineOf([$part->of->kind(), $part->name]);
            throw new Problem($problem->status, "{$part->file->name}:{$line}: {$part->words()}: {$problem->getMessage()}", $problem->more);
        }
    }

    private function saysSomething(WrittenPart $part): bool
    {
        return !$part->of instanceof MutePart || !$part->of->isOver($part->written);
    }

    /**
     * @param array<string, string|int|float|bool> $now
     * @param array<string, string|int|float|bool> $written
     *
     * @return list<string>
     */
    private static function differing(array $now, array $written): array
    {
        $differs = [];
        foreach ($now as $key => $value) {
            $is = self::comparable($written[$key] ?? '');
            $was = self::comparable($value);
            if ($is !== $was) {
                $differs[] = "{$key}: " . ($was === '' ? '(nothing)' : $was) . ' → ' . ($is === '' ? '(nothing)' : $is);
            }
        }

        return $differs;
    }

    /** An address that may hold a secret is left out, and stays as it is. */
    private static function maySay(string|int|float|bool $value, string $key): bool
    {
        return $key !== 'at' || !WrittenSecret::mayBe((string) $value);
    }

    private static function comparable(string|int|float|bool $value): string
    {
        return is_bool($value) ? ($value ? 'yes' : 'no') : trim((string) $value);
    }

    /**
     * @param array<array-key, mixed> $map
     *
     * @return array<string, string|int|float|bool>
     */
    private static function plain(array $map): array
    {
        $plain = [];
        foreach ($map as $key => $value) {
            // A day without quotes is a day to YAML too, and comes as an instant.
            $plain[(string) $key] = is_int($value) && in_array($key, ['from', 'to'], true) ? gmdate('Y-m-d H:i', $value) : (is_scalar($value) ? $value : '');
        }

        return $plain;
    }
}

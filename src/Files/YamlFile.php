<?php

declare(strict_types=1);

namespace Olivine\App\Files;

use Olivine\App\Platform\OneLine;
use Olivine\Core\Formula\Nearest;
use Symfony\Component\Yaml\Exception\ParseException;
use Symfony\Component\Yaml\Yaml;

/** A file of ours: what it holds by kind, and where each part of it stands. */
final class YamlFile
{
    public const VERSION = 1;
    private const MOST_BYTES = 4_000_000;
    private const LONGEST_SHOWN = 60;

    /** @var list<FileFault> */
    private array $faults = [];
    private readonly YamlPlaces $places;
    /** @var array<array-key, mixed> */
    private array $held = [];

    /** @param string $name as it is told, such as `rules/piers.yaml` */
    private function __construct(public readonly string $name, public readonly string $text)
    {
        $this->places = new YamlPlaces(mb_check_encoding($text, 'UTF-8') ? $text : '');
    }

    /** @param list<string> $kinds that may stand in it */
    public static function of(string $name, string $text, array $kinds): self
    {
        $file = new self($name, $text);
        $file->held = $file->parsed();
        if ($file->faults === []) {
            $file->refuseUnknown([], $file->held, ['olivine', ...$kinds]);
            if (($file->held['olivine'] ?? null) !== self::VERSION) {
                $file->fault(['olivine'], 'a file of ours begins with olivine: ' . self::VERSION);
            }
        }

        return $file;
    }

    /** @return list<FileFault> */
    public function faults(): array
    {
        return $this->faults;
    }

    /** @return array<array-key, mixed> the things of a kind, by their key */
    public function things(string $kind): array
    {
        return $this->faults === [] || isset($this->held[$kind]) ? $this->map([$kind], $this->held[$kind] ?? []) : [];
    }

    /**
     * The things of a kind whose order matters, each the only key of its item: `- boarding: { … }`.
     *
     * @return list<array{list<string>, string, mixed}> path, key, and what it means
     */
    public function itemsOf(string $kind): array
    {
        $held = $this->held[$kind] ?? [];
        if (!is_array($held) || !array_is_list($held)) {
            $this->fault([$kind], "{$kind} must be a list, as their order matters: - boarding: { … }");

            return [];
        }
        $items = [];
        foreach ($held as $place => $item) {
            if (!is_array($item) || count($item) !== 1 || array_is_list($item)) {
                $this->fault([$kind, (string) $place], "each of {$kind} is one key with what it means: - boarding: { … }");
                continue;
            }
            $key = (string) array_key_first($item);
            $items[] = [[$kind, (string) $place, $key], $key, reset($item)];
        }

        return $items;
    }

    /**
     * @param list<string> $path
     *
     * @return array<array-key, mixed>
     */
    public function map(array $path, mixed $value): array
    {
        if (is_array($value) && ($value === [] || !array_is_list($value))) {
            return $value;
        }
        $this->fault($path, implode(' of ', array_reverse($path)) . ' must be keys with what they mean');

        return [];
    }

    /**
     * @param list<string>            $path
     * @param array<array-key, mixed> $written
     * @param list<string>            $known
     */
    public function refuseUnknown(array $path, array $written, array $known): void
    {
        foreach (array_keys($written) as $key) {
            $key = (string) $key;
            if (!in_array($key, $known, true)) {
                $near = Nearest::to($key, $known);
                $remedy = $near === null ? 'there are ' . implode(', ', $known) : "did you mean {$near}?";
                $shown = mb_substr(OneLine::of($key), 0, self::LONGEST_SHOWN);
                $this->fault([...$path, $key], "there is no key {$shown} here; {$remedy}");
            }
        }
    }

    /** @param list<string> $path */
    public function fault(array $path, string $message): void
    {
        $this->at($this->places->ofKey($path), $message);
    }

    /**
     * In the words of a value, at one of its bytes.
     *
     * @param list<string> $path
     */
    public function faultIn(array $path, string $value, int $offset, string $message): void
    {
        $this->at($this->places->inValue($path, $value, $offset), $message);
    }

    /**
     * What words mean; where they mean nothing, that is told at their place.
     *
     * @template T
     *
     * @param list<string>        $path
     * @param callable(string): T $reader that may throw BadText
     *
     * @return T|null null where it is at fault
     */
    public function said(array $path, string $words, callable $reader): mixed
    {
        try {
            return $reader($words);
        } catch (BadText $fault) {
            $this->faultIn($path, $words, $fault->offset, $fault->getMessage());

            return null;
        }
    }

    /** @param list<string> $path */
    public function lineOf(array $path): int
    {
        return $this->places->ofKey($path)->line;
    }

    /** @return array<array-key, mixed> */
    private function parsed(): array
    {
        if (strlen($this->text) > self::MOST_BYTES) {
            $this->at(new FilePlace(1, 1), sprintf('a file holds at most %d MB; put it into several', self::MOST_BYTES / 1_000_000));

            return [];
        }
        if (!mb_check_encoding($this->text, 'UTF-8')) {
            $this->at(new FilePlace(1, 1), 'the file is not valid UTF-8');

            return [];
        }
        try {
            $held = Yaml::parse($this->text, Yaml::PARSE_EXCEPTION_ON_INVALID_TYPE);
        } catch (ParseException $error) {
            $message = preg_replace('~ at line \d+.*$~s', '', $error->getMessage());
            $remedy = str_contains((string) $message, 'inline') ? '; within { }, words with a comma stand in quotes' : '';
            $this->at(new FilePlace(max(1, $error->getParsedLine()), 1), 'this is no YAML: ' . lcfirst(rtrim((string) $message, '.')) . $remedy);

            return [];
        }
        if (!is_array($held)) {
            $this->at(new FilePlace(1, 1), 'a file of ours begins with olivine: ' . self::VERSION . ' and holds keys, such as rules:');

            return [];
        }

        return $held;
    }

    private function at(FilePlace $place, string $message): void
    {
        $this->faults[] = new FileFault($this->name, $place->line, $place->column, $message);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Server;

/** `--name=value` arguments of a small program, which says in words what it does not know. */
final readonly class Arguments
{
    /** @param array<string, string> $values */
    private function __construct(private array $values)
    {
    }

    /**
     * @param list<string>          $arguments
     * @param array<string, string> $known     name → what it is, as `--help` says it
     */
    public static function of(array $arguments, string $about, array $known): self
    {
        $values = [];
        foreach (array_slice($arguments, 1) as $argument) {
            if ($argument === '--help' || $argument === '-h') {
                fwrite(STDOUT, self::help($about, $known));
                exit(0);
            }
            if (preg_match('~^--([a-z-]+)=(.*)$~Ds', $argument, $part) !== 1 || !isset($known[$part[1]])) {
                self::refuse("There is no argument {$argument}.", $about, $known);
            }
            if (self::isPort($part[1], $known) && (!ctype_digit($part[2]) || (int) $part[2] < 1 || (int) $part[2] > 65_535)) {
                self::refuse("--{$part[1]} must be a port, 1 to 65535, not {$part[2]}.", $about, $known);
            }
            $values[$part[1]] = $part[2];
        }

        return new self($values);
    }

    public function get(string $name, string $default): string
    {
        return $this->values[$name] ?? $default;
    }

    /** @param array<string, string> $known */
    private static function isPort(string $name, array $known): bool
    {
        return str_starts_with($known[$name], 'port');
    }

    /** @param array<string, string> $known */
    private static function refuse(string $why, string $about, array $known): never
    {
        fwrite(STDERR, $why . "\n" . self::help($about, $known));
        exit(2);
    }

    /** @param array<string, string> $known */
    private static function help(string $about, array $known): string
    {
        $lines = array_map(
            static fn(string $name, string $words): string => sprintf("  --%-14s %s\n", "{$name}=…", $words),
            array_keys($known),
            $known,
        );

        return "{$about}\n" . implode('', $lines);
    }
}

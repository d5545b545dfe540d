<?php

declare(strict_types=1);

namespace Olivine\Server;

/** `--name=value` arguments of a small program. */
final readonly class Arguments
{
    /** @param array<string, string> $values */
    private function __construct(private array $values)
    {
    }

    /** @param list<string> $arguments */
    public static function of(array $arguments): self
    {
        $values = [];
        foreach (array_slice($arguments, 1) as $argument) {
            if (preg_match('~^--([a-z-]+)=(.*)$~Ds', $argument, $part) === 1) {
                $values[$part[1]] = $part[2];
            }
        }

        return new self($values);
    }

    public function get(string $name, string $default): string
    {
        return $this->values[$name] ?? $default;
    }
}

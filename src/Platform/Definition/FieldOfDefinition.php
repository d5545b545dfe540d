<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition;

use Olivine\App\Platform\Definition\Field\FieldRule;
use Olivine\App\Platform\Definition\Field\ListOf;
use Olivine\App\Platform\Definition\Field\OneOf;
use Olivine\App\Platform\Definition\Field\YesOrNo;

/** One parameter of a definition's constructor. */
final readonly class FieldOfDefinition
{
    /**
     * @param FieldRule|null    $rule   what may stand there; of a part its own fields say so
     * @param class-string|null $part   an object inside, or what each object of a list is; an interface: which class depends on the kind
     * @param bool              $isList of such parts
     */
    private function __construct(public bool $mayBeLeftOut, public ?FieldRule $rule, public ?string $part, public bool $isList)
    {
    }

    /**
     * @param class-string $class
     *
     * @return array<string, self> by name
     */
    public static function allOf(string $class): array
    {
        $fields = [];
        foreach ((new \ReflectionMethod($class, '__construct'))->getParameters() as $parameter) {
            $type = $parameter->getType();
            $type instanceof \ReflectionNamedType || throw new \LogicException("{$class}::\${$parameter->name} needs one type");
            $rule = ($parameter->getAttributes(FieldRule::class, \ReflectionAttribute::IS_INSTANCEOF)[0] ?? null)?->newInstance();
            $rule ??= self::ruleOf($type->getName());
            $isPart = $rule === null && (class_exists($type->getName()) || interface_exists($type->getName()));
            $fields[$parameter->name] = new self(
                $parameter->isDefaultValueAvailable() || $type->allowsNull(),
                $rule,
                $rule instanceof ListOf ? $rule->class : ($isPart ? $type->getName() : null),
                $rule instanceof ListOf,
            );
        }

        return $fields;
    }

    /** What the type says by itself. */
    private static function ruleOf(string $type): ?FieldRule
    {
        return match (true) {
            $type === 'bool' => new YesOrNo(),
            is_a($type, \BackedEnum::class, true) => new OneOf($type),
            default => null,
        };
    }
}

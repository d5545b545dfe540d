<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Serializer\Attribute\DiscriminatorMap;
use Symfony\Component\Yaml\Yaml;

/** The schemas of the contract mirror the classes: what answers are made of, and what people may write. */
final class AnswersTest extends TestCase
{
    private const ROOT = __DIR__ . '/../..';
    /** A schema that is no class of ours: words, lines of an answer that comes bit by bit, or what the framework answers. */
    private const NO_CLASSES = ['Labels', 'Problem', 'ImportReport', 'LongReplay', 'Severity', 'Worth', 'Role', 'MailTls', 'ExportForm', 'Phases'];
    /** What is written of these goes beyond what is promised for one purpose each: to test, to change, to replay. */
    private const BESIDE = [
        'DraftFields' => ['version'],
        'TargetFields' => ['id', 'version'],
        'GroupFields' => ['version'],
        'RuleFields' => ['version'],
    ];

    /** @return iterable<string, array{class-string, array<string, mixed>}> */
    public static function schemas(): iterable
    {
        $classes = self::classes();
        foreach (self::promised() as $name => $schema) {
            if (!in_array($name, self::NO_CLASSES, true)) {
                yield $name => [$classes[$name] ?? \stdClass::class, $schema];
            }
        }
    }

    /**
     * @param class-string         $class
     * @param array<string, mixed> $schema
     */
    #[DataProvider('schemas')]
    public function testTheSchemaSaysWhatTheClassHolds(string $class, array $schema): void
    {
        self::assertNotSame(\stdClass::class, $class, 'no class of that name in Answer or Definition');
        if (isset($schema['oneOf'])) {
            $this->holdKinds($class, $schema);

            return;
        }
        $this->hold($class, $schema['anyOf'][0] ?? $schema, self::BESIDE[(new \ReflectionClass($class))->getShortName()] ?? []);
    }

    /**
     * @param class-string         $class
     * @param array<string, mixed> $schema
     * @param list<string>         $beside
     */
    private function hold(string $class, array $schema, array $beside = []): void
    {
        $properties = [];
        foreach ((new \ReflectionClass($class))->getProperties(\ReflectionProperty::IS_PUBLIC) as $property) {
            $properties[$property->name] = $property;
        }
        self::assertEqualsCanonicalizing(array_keys($schema['properties']), array_diff(array_keys($properties), $beside), $class);
        foreach ($schema['properties'] as $name => $promised) {
            $this->holdOne($properties[$name], $promised, in_array($name, $schema['required'] ?? [], true));
        }
    }

    /**
     * @param class-string         $interface
     * @param array<string, mixed> $schema
     */
    private function holdKinds(string $interface, array $schema): void
    {
        $map = (new \ReflectionClass($interface))->getAttributes(DiscriminatorMap::class)[0]->newInstance();
        self::assertSame($map->typeProperty, $schema['discriminator']['propertyName']);
        self::assertSame(array_keys($map->mapping), array_keys($schema['discriminator']['mapping']));
        foreach ($map->mapping as $kind => $class) {
            $name = basename((string) $schema['discriminator']['mapping'][$kind]);
            self::assertSame((new \ReflectionClass($class))->getShortName(), $name);
            self::assertSame([$kind], self::promised()[$name]['properties'][$map->typeProperty]['enum']);
        }
    }

    /** @param array<string, mixed> $promised */
    private function holdOne(\ReflectionProperty $property, array $promised, bool $isRequired): void
    {
        $type = $property->getType();
        self::assertInstanceOf(\ReflectionNamedType::class, $type);
        $where = "{$property->class}::\${$property->name}";
        if ($type->getName() === 'mixed' || $promised === []) {
            return;
        }
        $types = array_map(strval(...), (array) ($promised['type'] ?? array_column($promised['anyOf'] ?? [], 'type')));
        $mayBeNull = in_array('null', $types, true) || ($promised['$ref'] ?? '') === '#/components/schemas/ShownCredential';
        if ($isRequired) {
            self::assertSame($mayBeNull, $type->allowsNull(), "{$where} and null");
        }
        $name = $type->getName();
        $inner = isset($promised['anyOf'])
            ? array_values(array_filter($promised['anyOf'], static fn(array $one): bool => ($one['type'] ?? '') !== 'null'))[0]
            : $promised;
        $inner = self::resolved($inner);
        if (isset($inner['oneOf'])) {
            self::assertTrue(interface_exists($name), "{$where} is of several kinds");

            return;
        }
        if (isset($inner['properties'])) {
            self::assertTrue(class_exists($name), "{$where} is an object");
            $this->hold($name, $inner);

            return;
        }
        if (enum_exists($name)) {
            self::assertSame($inner['enum'] ?? null, array_column($name::cases(), 'value'), $where);

            return;
        }
        $kind = current(array_diff((array) ($inner['type'] ?? 'string'), ['null']));
        self::assertContains(
            $name,
            match ($kind) {
                'integer' => ['int', 'Olivine\Core\Time\Instant'],
                'number' => ['float', 'int'],
                'string' => ['string'],
                'boolean' => ['bool'],
                'array' => ['array'],
                default => ['object', 'array', 'Olivine\Core\Series\LabelSet'],
            },
            "{$where} is promised as {$kind}",
        );
        $items = $kind === 'array' ? self::resolved($inner['items']) : [];
        if (isset($items['properties'])) {
            $this->hold($this->itemClass($property), $items);
        }
    }

    /** @return class-string of the items of a list, as its constructor says */
    private function itemClass(\ReflectionProperty $property): string
    {
        $constructor = (string) $property->getDeclaringClass()->getConstructor()?->getDocComment();
        self::assertSame(1, preg_match('~@param list<(\w+)>(?:\|null)?\s+\$' . $property->name . '\b~', $constructor, $part), (string) $property);
        $classes = self::classes();
        self::assertArrayHasKey($part[1], $classes, (string) $property);

        return $classes[$part[1]];
    }

    /**
     * @param array<string, mixed> $schema
     *
     * @return array<string, mixed>
     */
    private static function resolved(array $schema): array
    {
        $name = substr((string) ($schema['$ref'] ?? ''), strlen('#/components/schemas/'));
        $found = $name === '' ? $schema : self::promised()[$name];

        return $found['anyOf'][0] ?? $found;
    }

    /** @return array<string, array<string, mixed>> */
    private static function promised(): array
    {
        static $schemas;

        return $schemas ??= Yaml::parse((string) file_get_contents(self::ROOT . '/docs/openapi.yaml'))['components']['schemas'];
    }

    /** @return array<string, class-string> by the short name */
    private static function classes(): array
    {
        $found = [];
        foreach ((array) glob(self::ROOT . '/src/*/{Answer,Definition}/*.php', GLOB_BRACE) as $file) {
            [$domain, $kind, $name] = array_slice(explode('/', substr((string) $file, 0, -4)), -3);
            $class = "Olivine\\App\\{$domain}\\{$kind}\\{$name}";
            if (class_exists($class) || interface_exists($class)) {
                $found[$name] = $class;
            }
        }

        return $found;
    }
}

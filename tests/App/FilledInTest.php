<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Platform\Problem;
use Olivine\App\Recipe\FilledIn;
use Olivine\App\Recipe\Recipe;
use Olivine\App\Recipe\RecipeInput;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What somebody says is put where a recipe has a place for it, as what it is. */
final class FilledInTest extends TestCase
{
    /** @return iterable<string, array{mixed, array<string, string>, mixed}> what is written, what is said, and what comes of it */
    public static function cases(): iterable
    {
        yield 'alone' => ['{host}', ['host' => 'db-1'], 'db-1'];
        yield 'within words' => ['http://{host}:{port}/x', ['host' => 'db-1'], 'http://db-1:3306/x'];
        yield 'a whole number alone is one' => ['{port}', ['host' => 'a', 'port' => '3307'], 3307];
        yield 'what is none stays as it was said, to be refused with its words' => ['{port}', ['host' => 'a', 'port' => 'many'], 'many'];
        yield 'a word of digits stays a word' => ['{host}', ['host' => '200'], '200'];
        yield 'blanks around go' => ['{host}', ['host' => '  db-1 '], 'db-1'];
        yield 'what is filled in is not looked through again' => ['{host}', ['host' => '{port}'], '{port}'];
        yield 'a place of nobody stays' => ['{other}', ['host' => 'a'], '{other}'];
        yield 'deep within' => [['a' => ['b' => ['{host}', 7, true, null]]], ['host' => 'x'], ['a' => ['b' => ['x', 7, true, null]]]];
    }

    /** @param array<string, string> $said */
    #[DataProvider('cases')]
    public function testIsPutWhereItBelongs(mixed $written, array $said, mixed $filled): void
    {
        self::assertSame($filled, FilledIn::of(self::recipe(), $written, FilledIn::inputs(self::recipe(), $said)));
    }

    public function testAPasswordIsAsItWasSaid(): void
    {
        self::assertSame(' two bells ', FilledIn::inputs(self::recipe(), ['host' => 'a', 'password' => ' two bells '])['password']);
    }

    /** @return iterable<string, array{array<string, string>, string}> what is said, and the field that is at fault */
    public static function faults(): iterable
    {
        yield 'nothing' => [[], 'inputs.host'];
        yield 'blanks alone' => [['host' => '  '], 'inputs.host'];
        yield 'what nobody asked for' => [['host' => 'a', 'hots' => 'b'], 'inputs.hots'];
    }

    /** @param array<string, string> $said */
    #[DataProvider('faults')]
    public function testWhatIsMissingIsNamed(array $said, string $field): void
    {
        try {
            FilledIn::inputs(self::recipe(), $said);
            self::fail('It was taken');
        } catch (Problem $fault) {
            self::assertSame($field, $fault->more['field'] ?? null);
        }
    }

    private static function recipe(): Recipe
    {
        $inputs = [
            'host' => new RecipeInput('Host', '', null, false, false),
            'port' => new RecipeInput('Port', '', '3306', false, true),
            'password' => new RecipeInput('Password', '', null, true, false),
        ];

        return new Recipe('quay', 'Quay', 'quay', 'A quay', [], [], '', $inputs, [], null, 15, [], [], []);
    }
}

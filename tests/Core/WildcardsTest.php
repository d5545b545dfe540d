<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\Node\Wildcards;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class WildcardsTest extends TestCase
{
    /** @return iterable<string, array{string, list<string>, list<string>}> pattern, what it accepts, what not */
    public static function patterns(): iterable
    {
        yield 'at the end' => ['web-*', ['web-', 'web-1', 'web-*'], ['web', 'a web-1', 'Web-1']];
        yield 'at the start' => ['*-a', ['-a', 'x-a', '-a-a'], ['-ab', 'a', '']];
        yield 'in the middle' => ['web-*-a', ['web--a', 'web-3-a', 'web-a-a-a'], ['web-a', 'web-3-ab']];
        yield 'several' => ['*a*b*', ['ab', 'xaxbx', 'aab', 'abab'], ['ba', 'a', 'b', '']];
        yield 'side by side' => ['a**b', ['ab', 'axb'], ['a', 'b']];
        yield 'all' => ['*', ['', 'x', "two\nlines"], []];
        yield 'nothing' => ['', [''], ['x', "\n"]];
        yield 'one character' => ['?', ['x', 'é', '漢', "\n"], ['', 'xy']];
        yield 'one at each end' => ['?-?', ['a-b', '---'], ['-', 'a-', 'a-bc']];
        yield 'one and many' => ['?*', ['x', 'xy'], ['']];
        yield 'many and one' => ['*?a?*', ['xay', 'aaaa', 'aaa'], ['a', 'xa', 'ay']];
        yield 'beyond ASCII' => ['*ã?ém', ['ãxém', 'ããéém'], ['ãém', 'axem']];
        yield 'signs of expressions are plain' => ['a.b(c)+[~]\\*', ['a.b(c)+[~]\\', 'a.b(c)+[~]\\x'], ['aXb(c)+[~]\\', 'a.b(c)+[~]*']];
        yield 'the last piece is at the end' => ['*ab', ['ab', 'abab', 'aab'], ['aba', 'abb ']];
    }

    /**
     * @param list<string> $accepted
     * @param list<string> $refused
     */
    #[DataProvider('patterns')]
    public function testAcceptsTheWholeValue(string $pattern, array $accepted, array $refused): void
    {
        foreach ($accepted as $value) {
            self::assertTrue((new Wildcards($pattern))->accepts($value), "{$pattern} accepts {$value}");
        }
        foreach ($refused as $value) {
            self::assertFalse((new Wildcards($pattern))->accepts($value), "{$pattern} refuses {$value}");
        }
    }

    /** Ten thousand patterns by chance over few letters, so that pieces overlap, against the definition. */
    public function testAcceptsWhatTheDefinitionAccepts(): void
    {
        mt_srand(11);
        $accepted = 0;
        for ($i = 0; $i < 10_000; ++$i) {
            $pattern = self::chance(['a', 'b', 'é', '*', '*', '?'], 7);
            $value = self::chance(['a', 'b', 'é'], 8);
            $expected = self::fits(mb_str_split($pattern), mb_str_split($value));
            self::assertSame($expected, (new Wildcards($pattern))->accepts($value), "{$pattern} and {$value}");
            $accepted += (int) $expected;
        }
        self::assertGreaterThan(1_500, $accepted);
        self::assertLessThan(8_500, $accepted);
    }

    public function testALongValueIsNotTriedForEver(): void
    {
        $began = microtime(true);
        self::assertFalse((new Wildcards(str_repeat('*a', 40) . '*b'))->accepts(str_repeat('a', 2_000)));
        self::assertLessThan(1.0, microtime(true) - $began);
    }

    /** @param list<string> $letters */
    private static function chance(array $letters, int $most): string
    {
        $text = '';
        for ($n = mt_rand(0, $most); $n > 0; --$n) {
            $text .= $letters[mt_rand(0, count($letters) - 1)];
        }

        return $text;
    }

    /**
     * @param list<string> $pattern
     * @param list<string> $value
     */
    private static function fits(array $pattern, array $value): bool
    {
        if ($pattern === []) {
            return $value === [];
        }
        $rest = array_slice($pattern, 1);
        if ($pattern[0] === '*') {
            return self::fits($rest, $value) || ($value !== [] && self::fits($pattern, array_slice($value, 1)));
        }

        return $value !== [] && ($pattern[0] === '?' || $pattern[0] === $value[0]) && self::fits($rest, array_slice($value, 1));
    }
}

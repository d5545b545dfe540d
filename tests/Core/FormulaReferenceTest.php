<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\TextReader;
use Olivine\Core\Exposition\TextReadings;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Functions;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Printer;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Every example of docs/formula.md gives what the page says; each was worked out by hand from formula-readings.txt. */
final class FormulaReferenceTest extends TestCase
{
    private const DOCS = __DIR__ . '/../../docs';

    /** @return iterable<string, array{string, string}> */
    public static function examples(): iterable
    {
        preg_match_all('~^- `(.+?)` → (.+)$~m', (string) file_get_contents(self::DOCS . '/formula.md'), $found, PREG_SET_ORDER);
        foreach ($found as [, $formula, $result]) {
            yield $formula => [$formula, $result];
        }
    }

    #[DataProvider('examples')]
    public function testTheExampleHolds(string $formula, string $result): void
    {
        $readings = self::readings();
        try {
            $tree = Parser::parse($formula);
            (new Checker($readings))->unitOf($tree);
            $evaluator = new Evaluator($readings);
            $said = [];
            foreach ($evaluator->range($tree, 60_000, 60_000, 1)->lines as $line) {
                $said[] = "{{$line->labels->key()}} " . json_encode(round((float) $line->values[0], 12));
            }
            sort($said);
            self::assertSame(trim($result, '`'), implode(', ', $said));
            $again = $evaluator->range(Parser::parse(Printer::print($tree)), 60_000, 60_000, 1)->lines;
            self::assertEquals(
                array_column($evaluator->range($tree, 60_000, 60_000, 1)->lines, 'values'),
                array_column($again, 'values'),
                'printed and parsed again',
            );
        } catch (FormulaError $error) {
            self::assertStringNotContainsString('{', $result, $error->getMessage());
            self::assertStringContainsString($result === 'no metric' ? 'No target has brought a metric' : $result, $error->getMessage());
        }
    }

    public function testEveryFunctionIsDescribedAndHasAnExample(): void
    {
        $page = (string) file_get_contents(self::DOCS . '/formula.md');
        foreach (Functions::ALL as $name => [$usages, $help, $example]) {
            self::assertMatchesRegularExpression("~^- `.*\\b{$name}\\(~m", $page, "an example of {$name} in docs/formula.md");
            self::assertNotSame('', $help);
            foreach ([...$usages, $example] as $text) {
                $tree = Parser::parse(str_replace(' per label', ' per host', $text));
                self::assertSame(Printer::print($tree), Printer::print(Parser::parse(Printer::print($tree))));
            }
        }
    }

    private static function readings(): TextReadings
    {
        return new TextReadings(TextReader::read((string) file_get_contents(self::DOCS . '/formula-readings.txt'), Form::OpenMetrics), 15_000);
    }
}

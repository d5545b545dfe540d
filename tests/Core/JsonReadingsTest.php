<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\BadReading;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\JsonReadings;
use Olivine\Core\Exposition\TextReader;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

/** Readings that are written as JSON: what they are read as, and what is refused by its name. */
final class JsonReadingsTest extends TestCase
{
    private const WRITTEN = '{"rows_copied": 1200, "files_total": 7, "ended_well": true, "copied_bytes": [
        {"value": 3e9, "labels": {"disk": "a\"b\\\\c\nd"}, "unit": "bytes", "help": "What \"went\" over"}, {"value": -0.5, "labels": {"disk": "zwei ä"}}]}';

    public function testIsReadAsTheTextItStandsFor(): void
    {
        $read = TextReader::read(JsonReadings::text(self::WRITTEN), Form::OpenMetrics);
        $found = [];
        foreach ($read->samples as $sample) {
            $found[] = [$sample->name, $sample->labels->labels, $sample->value, $sample->family->type?->value, (string) $sample->family->unit];
        }
        self::assertSame([
            ['rows_copied', [], 1200.0, 'gauge', ''],
            ['files_total', [], 7.0, 'counter', ''],
            ['ended_well', [], 1.0, 'gauge', ''],
            ['copied_bytes', ['disk' => "a\"b\\c\nd"], 3e9, 'gauge', 'bytes'],
            ['copied_bytes', ['disk' => 'zwei ä'], -0.5, 'gauge', 'bytes'],
        ], $found);
    }

    /** @return iterable<string, array{string, string}> */
    public static function refused(): iterable
    {
        yield 'no JSON' => ['rows 12', 'the body must be an object'];
        yield 'nothing' => ['{}', 'the body must be an object'];
        yield 'a list' => ['[1, 2]', 'the body must be an object'];
        yield 'no value' => ['{"a": null}', 'a must be a number'];
        yield 'text' => ['{"a": "12"}', 'a must be a number'];
        yield 'an empty list' => ['{"a": []}', 'a holds no value'];
        yield 'one of a list' => ['{"a": [{"value": 1}, {"value": "x"}]}', 'a[1] must be a number'];
        yield 'a field that is none' => ['{"a": {"value": 1, "lables": {}}}', 'a holds lables; there are value, labels, unit, help'];
        yield 'a label that is no text' => ['{"a": {"value": 1, "labels": {"disk": 3}}}', 'a.labels.disk must be text'];
        yield 'labels that are none' => ['{"a": {"value": 1, "labels": "disk"}}', 'a.labels must be an object'];
        yield 'a name with a blank' => ['{"a b": 1}', 'a b is no name of a metric'];
        yield 'no name' => ['{"": 1}', 'is no name of a metric'];
        yield 'a name that is a number' => ['{"7": 1, "a": 2}', '7 is no name of a metric'];
        yield 'a label with a dash' => ['{"a": {"value": 1, "labels": {"the-disk": "x"}}}', 'a.labels.the-disk is no name of a label'];
        yield 'deeper than anything is' => ['{"a": {"value": 1, "labels": {"x": {"y": {"z": 1}}}}}', 'the body must be an object'];
    }

    #[DataProvider('refused')]
    public function testIsRefusedByName(string $json, string $words): void
    {
        $this->expectException(BadReading::class);
        $this->expectExceptionMessage($words);
        JsonReadings::text($json);
    }

    public function testWhateverIsWrittenIsAResultOrOurOwnError(): void
    {
        $random = new Randomizer(new Mt19937(30));
        $taken = 0;
        for ($i = 0; $i < 3_000; ++$i) {
            $json = self::WRITTEN;
            for ($change = $random->getInt(1, 3); $change > 0; --$change) {
                $at = $random->getInt(0, strlen($json) - 1);
                $json = substr($json, 0, $at) . $random->shuffleBytes('{}[],:"0e-\\') [0] . substr($json, $at + $random->getInt(0, 2));
            }
            try {
                $taken += count(TextReader::read(JsonReadings::text($json), Form::OpenMetrics)->samples) > 0 ? 1 : 0;
            } catch (BadReading|BadExposition $fault) {
                self::assertNotSame('', $fault->getMessage());
            }
        }
        self::assertGreaterThan(100, $taken, 'some are as good as before');
    }
}

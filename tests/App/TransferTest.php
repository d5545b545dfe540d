<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\Core\Exposition\MetricType;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Readings out of the running instance and back into it, as files. */
final class TransferTest extends TestCase
{
    private const PLACES = 'messaging_queue_depth where broker = "broker-north"';

    /** @return iterable<string, array{string}> */
    public static function forms(): iterable
    {
        yield 'OpenMetrics' => ['openmetrics'];
        yield 'CSV' => ['csv'];
    }

    #[DataProvider('forms')]
    public function testWhatWasExportedCanBeTakenTwiceAndChangesNothing(string $form): void
    {
        $client = new Client('ines@saltmarsh.example');
        $to = (int) (microtime(true) * 1000) - 5_000;
        $export = static fn(): string => $client->send(
            'GET',
            '/api/export?' . http_build_query(['formula' => self::PLACES, 'from' => $to - 1_800_000, 'to' => $to, 'as' => $form]),
        )[2];
        $first = $export();
        self::assertGreaterThan(100, substr_count($first, "\n"));
        foreach ([1, 2] as $time) {
            $report = self::import($client, $form, $first);
            self::assertSame([true, 0, 0], [$report['done'], $report['newSeries'], $report['refused']], implode('; ', $report['reasons']));
        }
        self::assertSame($first, $export());
    }

    public function testReadingsFromElsewhereBecomeSeriesAndBadRowsAreToldOneByOne(): void
    {
        $client = new Client('ines@saltmarsh.example');
        $at = intdiv((int) (microtime(true) * 1000) - 86_400_000, 1000) * 1000;
        $name = 'pier_swell_metres';
        $csv =
            "time,metric,value,pier,\"odd, label\"\r\n" .
            gmdate('Y-m-d\TH:i:s\Z', intdiv($at, 1000)) .
            ",{$name},1.25,north,\"say \"\"ahoy\"\"\"\r\n" .
            ($at + 60_000) .
            ",{$name},1.5,north,\"say \"\"ahoy\"\"\"\r\n" .
            "yesterday,{$name},1,north,\r\n" .
            "{$at},{$name},high,north,\r\n" .
            "{$at},two words,1,north,\r\n" .
            "{$at},{$name}\r\n";
        $report = self::import($client, 'csv', $csv);
        self::assertSame([2, 4], [$report['readings'], $report['refused']]);
        self::assertStringContainsString('Row 4: its time is neither', $report['reasons'][0]);
        self::assertStringContainsString('Row 5: its value is no number: high', $report['reasons'][1]);
        self::assertStringContainsString('Row 6: its metric', $report['reasons'][2]);
        self::assertStringContainsString('Row 7 has 2 fields', $report['reasons'][3]);

        $out = $client->send(
            'GET',
            '/api/export?' . http_build_query(['formula' => $name, 'from' => $at - 1, 'to' => $at + 120_000, 'as' => 'jsonl']),
        )[2];
        $line = json_decode($out, true, 8, JSON_THROW_ON_ERROR);
        self::assertSame([[$at, $at + 60_000], [1.25, 1.5]], [$line['times'], $line['values']]);
        self::assertSame('say "ahoy"', $line['labels']['odd, label']);

        self::assertSame(1, self::import($client, 'openmetrics', "a 1 2\nb {\n# EOF\n")['refused'], 'a text with a fault is refused as a whole');
        self::assertStringContainsString('time, metric and value', self::import($client, 'csv', "when,what\r\n1,2\r\n")['reasons'][0]);
        self::assertSame(403, (new Client('viewer@saltmarsh.example'))->send('POST', '/api/import?as=csv&target=x', [])[0]);
    }

    public function testFilesOfNothingAreRefusedInWordsAndLeaveNoTargetBehind(): void
    {
        $client = new Client('ines@saltmarsh.example');
        $target = 'empty ' . bin2hex(random_bytes(4));
        foreach (
            [
                "time,metric,value,id\r\n" . str_repeat(',', 5_000_000) . "\r\n",
                str_repeat(',', 5_000_000),
                '',
                "time,metric,value\r\n",
                str_repeat("\n", 100_000),
                '"' . str_repeat("a\n", 500_000),
            ] as $text
        ) {
            $answer = $client->sendText('/api/import?as=csv&target=' . rawurlencode($target), $text);
            $last = json_decode((string) strrchr("\n" . trim($answer), "\n"), true);
            self::assertIsArray($last, substr($answer, 0, 200));
            self::assertSame(0, $last['readings'] ?? 0);
        }
        foreach (["two\nlines", str_repeat('a', 200), " \0"] as $name) {
            self::assertStringContainsString(
                'target',
                $client->sendText('/api/import?as=csv&target=' . rawurlencode($name), "time,metric,value\r\n1,a,1\r\n"),
            );
        }
        $names = array_column($client->send('GET', '/api/targets')[1], 'name');
        self::assertNotContains($target, $names);
    }

    /** A spreadsheet runs what begins with one of four signs: it goes out as text, and comes back as it was. */
    public function testNoCellOfACsvIsRunByASpreadsheet(): void
    {
        $client = new Client('ines@saltmarsh.example');
        $at = intdiv((int) (microtime(true) * 1000) - 3_600_000, 1000);
        $name = 'cells_' . bin2hex(random_bytes(3));
        $texts = ['=1+1', '+1', '-1', '@sum', "\t=1", "'=1", "'quoted", 'plain', '=cmd|\' /C calc\'!A0'];
        $lines = implode(
            '',
            array_map(static fn(string $text): string => sprintf("%s{cell=\"%s\"} 1 %d\n", $name, addcslashes($text, '"\\'), $at), $texts),
        );
        self::assertSame(count($texts), self::import($client, 'openmetrics', $lines . "# EOF\n")['readings']);
        $csv = $client->send(
            'GET',
            '/api/export?' . http_build_query(['formula' => $name, 'from' => ($at - 60) * 1000, 'to' => ($at + 60) * 1000, 'as' => 'csv']),
        )[2];
        $cells = array_merge(
            ...array_map(static fn(string $line): array => array_map(strval(...), str_getcsv($line, ',', '"', '')), explode("\r\n", trim($csv))),
        );
        self::assertSame(
            [],
            array_values(array_filter($cells, static fn(string $cell): bool => preg_match('~^[=+@\t\r]|^-(?!\d)~', $cell) === 1)),
            'no cell begins with a sign that is run',
        );
        $again = self::import($client, 'csv', $csv);
        self::assertSame(
            [0, count($texts), 0, 0],
            [$again['readings'], $again['already'], $again['newSeries'], $again['refused']],
            'they come back as they were, and were there already',
        );
    }

    /** Labels and values that no form has room for by itself go out and come in as they were, form after form. */
    public function testWhateverALabelHoldsAndWhateverAValueIsSurvivesEveryForm(): void
    {
        $client = new Client('ines@saltmarsh.example');
        mt_srand(11);
        $signs = [
            '"',
            '\\',
            "\n",
            "\r",
            ',',
            ';',
            '{',
            '}',
            '=',
            ' ',
            '#',
            '`',
            "\t",
            "'",
            '🦀',
            'ß',
            "\u{202E}",
            '\\n',
            '""',
            '%',
            'a',
            '0',
            "\u{FEFF}",
        ];
        $values = [0.0, -0.0, NAN, INF, -INF, 5e-324, -1.7976931348623157e308, 0.1 + 0.2, 1e21, 9007199254740993.0, -1.5, 1 / 3];
        $start = intdiv((int) (microtime(true) * 1000) - 3_000_000, 1000) * 1000;
        $name = 'hostile_' . bin2hex(random_bytes(4));
        $text = "# TYPE {$name} gauge\n";
        for ($i = 0; $i < 60; ++$i) {
            $labels = ['n' => (string) $i, 'time' => "at {$i}", 'metric' => 'm', 'value' => (string) ($i % 3)];
            foreach (['odd', 'z'] as $label) {
                for ($k = mt_rand(0, 9); $k > 0; --$k) {
                    $labels[$label] = ($labels[$label] ?? '') . $signs[mt_rand(0, count($signs) - 1)];
                }
            }
            foreach (range(0, 11) as $k) {
                $value = $values[($i + $k) % 12];
                $text .=
                    $name .
                    '{' .
                    implode(
                        ',',
                        array_map(
                            static fn(string $label, string $words): string => $label . '="' . addcslashes($words, "\\\"\n") . '"',
                            array_keys($labels),
                            $labels,
                        ),
                    ) .
                    '} ' .
                    (is_nan($value) ? 'NaN' : (is_infinite($value) ? ($value > 0 ? '+Inf' : '-Inf') : json_encode($value))) .
                    sprintf(' %.3f', ($start + $k * 7_777) / 1000) .
                    "\n";
            }
        }
        $export = static fn(string $metric, string $form): string => $client->send(
            'GET',
            '/api/export?' . http_build_query(['formula' => $metric, 'from' => $start - 1, 'to' => $start + 200_000, 'as' => $form]),
        )[2];
        $report = self::import($client, 'openmetrics', "{$text}# EOF\n");
        self::assertSame([720, 60, 0], [$report['readings'], $report['newSeries'], $report['refused']], implode('; ', $report['reasons']));
        $readings = static function (string $metric) use ($export): array {
            $series = [];
            foreach (explode("\n", trim($export($metric, 'jsonl'))) as $line) {
                $one = json_decode($line, true, 8, JSON_THROW_ON_ERROR);
                $series[$one['labels']['n']] = [$one['labels'], $one['times'], array_map(json_encode(...), $one['values'])];
            }
            ksort($series);

            return $series;
        };
        $first = $readings($name);
        self::assertCount(60, $first);
        self::assertSame(['0', '-0', '"NaN"', '"+Inf"', '"-Inf"'], array_slice($first[0][2], 0, 5));
        foreach (['csv' => 'b', 'openmetrics' => 'c'] as $form => $letter) {
            $again = self::import($client, $form, str_replace($name, "{$name}_{$letter}", $export($name, $form)));
            self::assertSame([720, 60, 0], [$again['readings'], $again['newSeries'], $again['refused']], implode('; ', $again['reasons']));
            self::assertSame($first, $readings("{$name}_{$letter}"), "by way of {$form}");
        }
    }

    public function testAFileOfManySeriesIsTakenInGoodTimeAndTwiceChangesNothing(): void
    {
        $client = new Client('ines@saltmarsh.example');
        $at = (int) (microtime(true) * 1000) - 60_000;
        $rows = array_map(static fn(int $i): string => "{$at},many_" . $i % 3 . ",{$i},{$i}\r\n", range(1, 8_000));
        $csv = "time,metric,value,id\r\n" . implode('', $rows);
        $from = microtime(true);
        foreach ([[8_000, 0, 8_000], [0, 8_000, 0]] as $expected) {
            $report = self::import($client, 'csv', $csv);
            self::assertSame([...$expected, 0], [$report['readings'], $report['already'], $report['newSeries'], $report['refused']]);
        }
        self::assertLessThan(30.0, microtime(true) - $from);
    }

    public function testALongTextFitsIntoTheMemoryOfARequest(): void
    {
        $at = time() - 3_600;
        $text = '';
        for ($series = 0; $series < 100; ++$series) {
            for ($i = 0; $i < 3_000; ++$i) {
                $text .= "long_story{part=\"{$series}\"} {$i} " . ($at + $i) . "\n";
            }
        }
        $report = self::import(new Client('ines@saltmarsh.example'), 'openmetrics', $text . "# EOF\n");
        self::assertSame([300_000, 100, 0], [$report['readings'], $report['newSeries'], $report['refused']]);
    }

    public function testReadingsFromNoReasonableTimeAreRefusedWithTheReason(): void
    {
        $now = time();
        $report = self::import(
            new Client('ines@saltmarsh.example'),
            'openmetrics',
            "tide 1 1000000000\ntide 2 " . ($now - 60) . "\ntide 3 " . ($now + 86_400) . "\ntide_level 4\n# EOF\n",
        );
        self::assertSame([1, 3], [$report['readings'], $report['refused']]);
        self::assertStringContainsString('older than readings are kept', $report['reasons'][0]);
        self::assertStringContainsString('ahead of now', $report['reasons'][1]);
        self::assertStringContainsString('has no timestamp', $report['reasons'][2]);
        foreach (
            [
                "time,metric,value,a,a\r\n" => 'each by another name',
                'time,metric,value,' . implode(',', range(1, 80)) . "\r\n" => 'more than 60',
            ] as $head => $words
        ) {
            self::assertStringContainsString($words, self::import(new Client('ines@saltmarsh.example'), 'csv', $head)['reasons'][0]);
        }
    }

    public function testFormulasThatWouldTakeTooLongAreRefusedAtOnce(): void
    {
        $client = new Client('viewer@saltmarsh.example');
        $from = (int) (microtime(true) * 1000) - 86_400_000;
        foreach (
            [
                'max(max(max(now(), 400d), 400d), 400d)',
                'mean(hour("Europe/Lisbon"), 400d)',
                'median(system_memory_usage_bytes, 14d)',
                'quantile(0.9, rate(system_network_io_bytes_total, 1m), 7d)',
            ] as $formula
        ) {
            $began = microtime(true);
            [$status, $problem] = $client->send('GET', '/api/chart?' . http_build_query(['formula' => $formula, 'from' => $from]));
            self::assertSame([422, 'formula'], [$status, $problem['field'] ?? null], $formula);
            self::assertLessThan(2.0, microtime(true) - $began);
        }
    }

    public function testTheNewestOfEverythingReadsAsOneScrape(): void
    {
        $text = (new Client('viewer@saltmarsh.example'))->send('GET', '/api/newest')[2];
        $read = \Olivine\Core\Exposition\TextReader::read($text, \Olivine\Core\Exposition\Form::OpenMetrics);
        self::assertGreaterThan(1_000, count($read->samples));
        $told = [];
        foreach ($read->families as $family) {
            $told[$family->name] = [$family->type, $family->unit, $family->help];
        }
        self::assertSame([MetricType::Gauge, 'bytes', 'Memory by use'], $told['system_memory_usage_bytes']);
        self::assertSame([MetricType::Counter, 'bytes', 'Bytes on its interface'], $told['container_network_io_bytes']);
        self::assertSame([MetricType::Unknown, null, 'How long requests took'], $told['http_server_request_duration_seconds_bucket']);
    }

    public function testAnEmptyChartSaysWhy(): void
    {
        $client = new Client('viewer@saltmarsh.example');
        $why = static fn(string $formula): array => $client->send('GET', '/api/chart?formula=' . rawurlencode($formula))[1]['why'];
        self::assertSame(
            ['No series of messaging_queue_depth has queue = "bording"', 'boarding'],
            array_slice(array_values($why('messaging_queue_depth where queue = "bording"')), 0, 2),
        );
        [$status, $problem] = $client->send('GET', '/api/chart?formula=' . rawurlencode('messaging_queue_depth where queu = "boarding"'));
        self::assertSame([422, 'queue'], [$status, $problem['suggestion'] ?? null], 'a misspelt label is no empty chart');
        self::assertStringContainsString(
            'none passes the whole filter',
            $why('messaging_queue_depth where queue = "boarding" and site = "skarn" and broker = "broker-north"')['words'],
        );
    }

    /** @return array{done: bool, readings: int, already: int, newSeries: int, refused: int, reasons: list<string>} the last line of the answer */
    private static function import(Client $client, string $form, string $text): array
    {
        $answer = $client->sendText("/api/import?as={$form}&target=imported", $text);
        $lines = explode("\n", trim($answer));

        return json_decode((string) end($lines), true, 8, JSON_THROW_ON_ERROR);
    }
}

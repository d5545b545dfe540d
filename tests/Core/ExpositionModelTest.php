<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\Exposition;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\Layout;
use Olivine\Core\Exposition\Sample;
use Olivine\Core\Exposition\TextReader;
use Olivine\Core\Series\LabelSet;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;

/**
 * Texts written by chance, in every way the two forms allow, of readings that are known beforehand: what is read must be
 * just these, whole or by a layout that was learnt before; and what is spoiled in a known place is refused there.
 *
 * @phpstan-type One array{name: string, labels: array<string, string>, value: float, word: string, at: int|null}
 */
final class ExpositionModelTest extends TestCase
{
    private const TEXTS = 2_000;
    private const SIGNS = ["\t", 'a', 'Z', '0', ' ', '=', ',', '{', '}', '#', 'é', '🦀', "\u{2028}", '/', '"', '\\', "\n"];

    /** @var list<One> in the order of the text */
    private array $written = [];
    /** How often a layout took its own text again, and one that is a little different. */
    private int $again = 0;
    private int $changed = 0;
    /** Without times, exemplars and odd blanks, as most targets write. */
    private bool $isSteady = false;
    /** @var list<string> names of families, each once */
    private array $taken = [];

    #[TestWith([Form::OpenMetrics])]
    #[TestWith([Form::Plain004])]
    public function testWhatIsWrittenIsRead(Form $form): void
    {
        mt_srand((int) (getenv('OLIVINE_SEED') ?: 21));
        for ($i = 0; $i < self::TEXTS; ++$i) {
            $text = $this->text($form);
            $read = TextReader::read($text, $form);
            self::assertSame(
                $this->told($this->written),
                $this->told(
                    array_map(
                        static fn(Sample $sample): array => [
                            'name' => $sample->name,
                            'labels' => $sample->labels->labels,
                            'value' => $sample->value,
                            'word' => '',
                            'at' => $sample->atMs,
                        ],
                        $read->samples,
                    ),
                ),
                $text,
            );
            $this->comesAgain($text, $read, $form);
        }
        self::assertGreaterThan(self::TEXTS / 4, $this->again);
        self::assertGreaterThan(20, $this->changed);
    }

    /** Each fault is put into a text that was good, and is found on its line. */
    public function testOneFaultIsFoundOnItsLine(): void
    {
        mt_srand((int) (getenv('OLIVINE_SEED') ?: 23));
        $found = 0;
        for ($i = 0; $i < self::TEXTS; ++$i) {
            $lines = explode("\n", rtrim($this->text(Form::OpenMetrics), "\n"));
            $samples = array_keys(array_filter($lines, static fn(string $line): bool => $line !== '' && $line[0] !== '#'));
            if ($samples === []) {
                continue;
            }
            $at = $samples[mt_rand(0, count($samples) - 1)];
            [$spoiled, $expected] = match (mt_rand(0, 6)) {
                0 => [array_replace($lines, [$at => "\xC3\x28" . $lines[$at]]), $at],
                1 => [array_replace($lines, [$at => '9' . $lines[$at]]), $at],
                2 => [array_replace($lines, [$at => $lines[$at] . ' ']), $at],
                3 => [[...array_slice($lines, 0, $at + 1), '', ...array_slice($lines, $at + 1)], $at + 1],
                4 => [[...$lines, 'late 1'], count($lines)],
                5 => [array_slice($lines, 0, -1), count($lines) - 1],
                default => [array_replace($lines, [$at => preg_replace('~ (?=[^ ]*$)~', ' x', $lines[$at])]), $at],
            };
            try {
                TextReader::read(implode("\n", $spoiled) . "\n", Form::OpenMetrics);
                self::fail("It was read:\n" . implode("\n", $spoiled));
            } catch (BadExposition $fault) {
                self::assertSame($expected + 1, $fault->lineNumber, $fault->getMessage() . "\n" . implode("\n", $spoiled));
                ++$found;
            }
        }
        self::assertGreaterThan(self::TEXTS * 0.75, $found);
    }

    /** The same shape with other values is read by what was learnt of it; another shape is not taken for it. */
    private function comesAgain(string $text, Exposition $read, Form $form): void
    {
        $layout = Layout::of($text, $read);
        if ($layout === null || $this->written === []) {
            return;
        }
        $values = $layout->values($text);
        if ($values !== null) {
            ++$this->again;
            self::assertSame(self::bits(array_column($this->written, 'value')), self::bits(array_map(floatval(...), $this->finite($values))), $text);
        }
        // Mostly a sign in place of a digit: in a value it may be another value, in a name another series.
        preg_match_all('~\d~', $text, $digits, PREG_OFFSET_CAPTURE);
        $places = array_column($digits[0], 1);
        $other =
            mt_rand(0, 3) > 0 && $places !== []
                ? substr_replace($text, ['1', '7', '0', '.', 'e', '-', ' ', 'x', '"'][mt_rand(0, 8)], $places[mt_rand(0, count($places) - 1)], 1)
                : substr_replace($text, ['"', '#', '7', '{', "\n", ' ', 'x'][mt_rand(0, 6)], mt_rand(0, strlen($text)), mt_rand(0, 1));
        $taken = $layout->values($other);
        if ($taken === null) {
            return;
        }
        ++$this->changed;
        // What the layout takes, reading it whole takes as well, and as the same.
        self::assertSame(
            self::bits(array_map(static fn(Sample $sample): float => $sample->value, TextReader::read($other, $form)->samples)),
            self::bits(array_map(floatval(...), $this->finite($taken))),
            "{$text}\n-- became --\n{$other}",
        );
    }

    /**
     * Values that PHP would read otherwise than the forms mean them.
     *
     * @param list<float|numeric-string> $values
     *
     * @return list<float|string>
     */
    private function finite(array $values): array
    {
        return array_map(static fn(float|string $value): float|string => is_string($value) ? TextReader::number($value) ?? $value : $value, $values);
    }

    private function text(Form $form): string
    {
        $this->written = [];
        $this->taken = [];
        $this->isSteady = mt_rand(0, 1) === 0;
        $text = '';
        for ($family = mt_rand(0, 5); $family > 0; --$family) {
            $text .= $form === Form::OpenMetrics ? $this->strictFamily() : $this->freeFamily();
        }

        return $text . ($form === Form::OpenMetrics ? "# EOF\n" : '');
    }

    private function strictFamily(): string
    {
        $type = ['counter', 'gauge', 'histogram', 'gaugehistogram', 'summary', 'info', 'stateset', 'unknown', null][mt_rand(0, 8)];
        $unit = $type === 'info' || $type === 'stateset' || mt_rand(0, 1) === 0 ? '' : ['seconds', 'bytes', 'ratio'][mt_rand(0, 2)];
        // A state set has a label of its own name, and labels know no colon.
        $name = $this->newName($unit, $type === 'stateset' ? 'door' : null);
        $head = [];
        if ($type !== null) {
            $head[] = "# TYPE {$name} {$type}\n";
        }
        if ($unit !== '') {
            $head[] = "# UNIT {$name} {$unit}\n";
        }
        if (mt_rand(0, 1) !== 0) {
            $head[] = "# HELP {$name} " . strtr($this->words(12), ['\\' => '\\\\', "\n" => '\\n', '"' => '\\"']) . "\n";
        }
        shuffle($head);
        $text = implode('', $head);
        $sets = [];
        for ($n = mt_rand(1, 3); $n > 0; --$n) {
            $labels = $this->labels($type === 'stateset' ? [$name] : ['le', 'quantile']);
            $sets[LabelSet::of($labels)->key()] = $labels;
        }
        foreach ($sets as $labels) {
            // All of one series' parts carry a time, or none does.
            $at = !$this->isSteady && mt_rand(0, 2) === 0 ? mt_rand(1, 2_000_000_000) * 1000 + mt_rand(0, 999) : null;
            foreach ($this->parts($type ?? 'unknown', $name) as [$suffix, $own, $value, $mayHaveExemplar]) {
                $text .=
                    $this->sample($name . $suffix, $labels + $own, $value, $at) .
                    ($at === null ? '' : sprintf(' %d.%03d', intdiv($at, 1000), $at % 1000)) .
                    ($mayHaveExemplar && !$this->isSteady && mt_rand(0, 2) === 0
                        ? ' # {trace_id="' . mt_rand() . '"} ' . $this->number()[0] . (mt_rand(0, 1) === 0 ? ' 1395066363.25' : '')
                        : '') .
                    "\n";
            }
        }

        return $text;
    }

    private function freeFamily(): string
    {
        $type = ['counter', 'gauge', 'histogram', 'summary', 'untyped', null][mt_rand(0, 5)];
        $name = $this->newName('');
        $text = $type === null ? '' : "# TYPE {$name} {$type}\n";
        $text .= mt_rand(0, 2) === 0 ? "# HELP {$name}  " . strtr(trim($this->words(9)), ['\\' => '\\\\', "\n" => '\\n']) . "\n" : '';
        for ($n = mt_rand(1, 3), $seen = []; $n > 0; --$n) {
            $labels = $this->labels(['le', 'quantile']);
            if (isset($seen[LabelSet::of($labels)->key()])) {
                continue;
            }
            $seen[LabelSet::of($labels)->key()] = true;
            foreach (
                $this->parts($type === 'untyped' || $type === null ? 'unknown' : ($type === 'counter' ? 'gauge' : $type), $name) as [$suffix, $own, $value]
            ) {
                $at = !$this->isSteady && mt_rand(0, 3) === 0 ? mt_rand(1, 2_000_000_000) * 1000 + mt_rand(0, 999) : null;
                $gap = fn(): string => ['', ' ', '  ', "\t"][mt_rand(0, $this->isSteady ? 2 : 3)];
                $some = fn(): string => [' ', '   ', "\t"][mt_rand(0, $this->isSteady ? 1 : 2)];
                $sample = $this->sample($name . $suffix, $labels + $own, $value, $at, $gap, $some);
                $text .=
                    $gap() .
                    $sample .
                    ($at === null ? '' : $some() . $at) .
                    ($this->isSteady ? '' : $gap()) .
                    (!$this->isSteady && mt_rand(0, 5) === 0 ? "\r" : '') .
                    "\n" .
                    (mt_rand(0, 6) === 0 ? "\n" : '') .
                    (mt_rand(0, 6) === 0 ? "# a free remark\n" : '');
            }
        }

        return $text;
    }

    /** @return list<array{string, array<string, string>, array{string, float}, bool}> suffix, its own labels, value, whether it may have an exemplar */
    private function parts(string $type, string $name): array
    {
        $count = mt_rand(1, 90);
        $of = fn(int $value): array => [(string) $value, (float) $value];

        return match ($type) {
            'counter' => [['_total', [], $this->number(false), true]],
            'histogram' => [
                ['_bucket', ['le' => '0.5'], $of(intdiv($count, 2)), true],
                ['_bucket', ['le' => '+Inf'], $of($count), true],
                ['_count', [], $of($count), false],
                ['_sum', [], $this->number(false), false],
            ],
            'gaugehistogram' => [
                ['_bucket', ['le' => '2.0'], $of($count), true],
                ['_bucket', ['le' => '+Inf'], $of($count), true],
                ['_gcount', [], $of($count), false],
                ['_gsum', [], $this->number(false), false],
            ],
            'summary' => [
                ['', ['quantile' => '0.9'], $this->number(false), false],
                ['_count', [], $of($count), false],
                ['_sum', [], $this->number(false), false],
            ],
            'info' => [['_info', [], $of(1), false]],
            'stateset' => [['', [$name => 'open'], $of($open = mt_rand(0, 1)), false], ['', [$name => 'shut'], $of(1 - $open), false]],
            default => [['', [], $this->number(), false]],
        };
    }

    /**
     * @param array<string, string>     $labels
     * @param array{string, float}      $value
     * @param (\Closure(): string)|null $gap    what may stand between the parts of the older form
     * @param (\Closure(): string)|null $some   what must
     */
    private function sample(string $name, array $labels, array $value, ?int $at, ?\Closure $gap = null, ?\Closure $some = null): string
    {
        $gap ??= static fn(): string => '';
        $this->written[] = ['name' => $name, 'labels' => $labels, 'value' => $value[1], 'word' => $value[0], 'at' => $at];
        $pairs = [];
        foreach ($labels as $label => $words) {
            $pairs[] = $gap() . $label . $gap() . '=' . $gap() . '"' . strtr($words, ['\\' => '\\\\', "\n" => '\\n', '"' => '\\"']) . '"' . $gap();
        }
        $isFree = $some !== null;
        $some ??= static fn(): string => ' ';
        $set = $pairs === [] ? (mt_rand(0, 1) === 0 ? '' : '{}') : '{' . implode(',', $pairs) . ($isFree && mt_rand(0, 3) === 0 ? ',' : '') . '}';

        return $name . ($isFree && $set !== '' ? $gap() : '') . $set . $some() . $value[0];
    }

    private function newName(string $unit, ?string $stem = null): string
    {
        do {
            $name = ($stem ?? ['load', 'Q', '_x', 'a:b', 'jobs_done', 'n9'][mt_rand(0, 5)]) . mt_rand(0, 999) . ($unit === '' ? '' : "_{$unit}");
        } while (in_array($name, $this->taken, true));

        return $this->taken[] = $name;
    }

    /**
     * @param list<string> $but
     *
     * @return array<string, string>
     */
    private function labels(array $but): array
    {
        $labels = [];
        foreach (['host', 'le_', '_', 'Zone', 'p99'] as $label) {
            if (mt_rand(0, 2) === 0 && !in_array($label, $but, true)) {
                $labels[$label] = $this->words(6);
            }
        }
        shuffle($but);

        return $labels;
    }

    private function words(int $most): string
    {
        $words = 'w';
        for ($n = mt_rand(0, $most); $n > 0; --$n) {
            $words .= self::SIGNS[mt_rand($this->isSteady ? 1 : 0, count(self::SIGNS) - 1)];
        }

        return $words . 'w';
    }

    /** @return array{string, float} how it is written, and what it is */
    private function number(bool $mayBeAny = true): array
    {
        $whole = mt_rand(0, 1_000_000);

        return match (mt_rand(0, $mayBeAny ? 9 : 3)) {
            0 => [(string) $whole, (float) $whole],
            1 => ["{$whole}.25", $whole + 0.25],
            2 => ["+{$whole}.5", $whole + 0.5],
            3 => ["{$whole}e-3", $whole / 1000],
            4 => ["-{$whole}", (float) -$whole],
            5 => ['-.5E+2', -50.0],
            6 => ["{$whole}.", (float) $whole],
            7 => ['NaN', NAN],
            8 => ['+Inf', INF],
            default => ['-Inf', -INF],
        };
    }

    /**
     * @param list<One> $samples
     *
     * @return list<string>
     */
    private function told(array $samples): array
    {
        return array_map(
            static fn(array $one): string => sprintf(
                '%s{%s} %s %s',
                $one['name'],
                LabelSet::of($one['labels'])->key(),
                bin2hex(pack('E', is_nan($one['value']) ? NAN : $one['value'])),
                $one['at'] ?? '-',
            ),
            $samples,
        );
    }

    /**
     * @param array<float> $values
     *
     * @return list<string>
     */
    private static function bits(array $values): array
    {
        return array_map(static fn(float $value): string => is_nan($value) ? 'NaN' : bin2hex(pack('E', $value)), array_values($values));
    }
}

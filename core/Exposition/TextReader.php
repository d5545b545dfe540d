<?php

declare(strict_types=1);

namespace Olivine\Core\Exposition;

use Olivine\Core\Series\LabelSet;

/**
 * Reads exposition text in either form, the whole grammar, and stops at the first thing that is wrong:
 * OpenMetrics text 1.0 (`# EOF` at the end, families together, exemplars, seconds) and the older
 * `text/plain; version=0.0.4` (free comments and spacing, `untyped`, no EOF, milliseconds).
 */
final class TextReader
{
    private const NAME = '[a-zA-Z_:][a-zA-Z0-9_:]*';
    private const LABEL_PAIR = '~\G([a-zA-Z_][a-zA-Z0-9_]*)="((?:[^"\\\\]++|\\\\.)*+)"~s';
    private const NUMBER = '~^[+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d+)?$~D';

    private int $lineNumber = 0;
    private int $readings = 0;
    private string $line = '';
    private ?Family $family = null;
    /** @var array<string, Family> */
    private array $families = [];
    /** @var list<Sample> */
    private array $samples = [];
    /** @var array<string, int|null> each series, with the newest timestamp it has had */
    private array $seen = [];

    private BucketOrder $buckets;
    /** @var list<int> places of samples that must be 0 or 1 */
    private array $states = [];
    /** @var list<int> places of buckets that count no less than the sample before them, where all is well */
    private array $rising = [];
    private ?string $lastHistogram = null;

    /** @param (\Closure(Sample): void)|null $take null: samples are gathered */
    private function __construct(
        private readonly Form $form,
        private readonly Limits $limits,
        private readonly ?\Closure $take = null,
    ) {
        $this->buckets = new BucketOrder();
    }

    /** @throws BadExposition at the first bad line, and where a limit is passed */
    public static function read(string $text, Form $form, Limits $limits = new Limits()): Exposition
    {
        return (new self($form, $limits))->readAll($text);
    }

    /**
     * Hands samples on one by one instead of gathering them: for long files.
     *
     * @param \Closure(Sample): void $take
     *
     * @throws BadExposition at the first bad line; samples before it were handed on
     */
    public static function each(string $text, Form $form, Limits $limits, \Closure $take): void
    {
        (new self($form, $limits, $take))->readAll($text);
    }

    /**
     * A sample's value as the text writes it.
     *
     * @return float|null null where it is no number
     */
    public static function number(string $text): ?float
    {
        if (preg_match(self::NUMBER, $text) === 1) {
            return (float) $text;
        }

        return match (strtolower($text)) {
            'nan' => NAN,
            'inf', '+inf', 'infinity', '+infinity' => INF,
            '-inf', '-infinity' => -INF,
            default => null,
        };
    }

    /** @throws BadExposition */
    private function readAll(string $text): Exposition
    {
        if (!mb_check_encoding($text, 'UTF-8')) {
            $this->findBadEncoding($text);
        }
        $strict = $this->form === Form::OpenMetrics;
        $ended = false;
        for ($at = 0, $size = strlen($text); $at < $size; $at = $end + 1) {
            $end = strpos($text, "\n", $at);
            $end = $end === false ? $size : $end;
            $line = substr($text, $at, $end - $at);
            ++$this->lineNumber;
            $this->line = $line;
            if ($ended) {
                $this->fail(1, 'nothing after # EOF');
            }
            if ($line !== '' && $line[0] === '#') {
                $ended = $strict ? $this->readStrictComment($line) : $this->readFreeComment($line);
            } elseif ($strict) {
                $this->readSample($line);
            } else {
                $line = trim($line, " \t\r");
                if ($line !== '') {
                    $this->line = $line;
                    $this->readSample($line);
                }
            }
        }
        if ($strict && !$ended) {
            ++$this->lineNumber;
            $this->line = '';
            $this->fail(1, '# EOF as the last line; the text may have been cut off');
        }

        $this->endBuckets();

        return new Exposition($this->form, $this->families, $this->samples, $this->states, $this->rising, $this->buckets->fall());
    }

    /** @throws BadExposition */
    private function endBuckets(): void
    {
        $line = $this->buckets->end();
        if ($line !== null) {
            $this->lineNumber = $line;
            $this->fail(1, 'a bucket le="+Inf" as the last one of each histogram; it is missing after this line');
        }
    }

    /**
     * @return bool whether this is the end of the text
     *
     * @throws BadExposition
     */
    private function readStrictComment(string $line): bool
    {
        if ($line === '# EOF') {
            return true;
        }
        if (preg_match('~^# (HELP|TYPE|UNIT) (' . self::NAME . ')(?: (.*))?$~Ds', $line, $part) !== 1) {
            $this->fail(1, '# HELP, # TYPE, # UNIT with a metric name, or # EOF');
        }
        $this->describe($part[1], $part[2], $part[3] ?? '');

        return false;
    }

    /** @throws BadExposition */
    private function readFreeComment(string $line): bool
    {
        $line = rtrim($line, "\r");
        if (preg_match('~^#[ \t]+(HELP|TYPE)[ \t]+(\S+)(?:[ \t]+(.*))?$~Ds', $line, $part) === 1) {
            if (preg_match('~^' . self::NAME . '$~D', $part[2]) !== 1) {
                $this->fail((int) strpos($line, $part[2]) + 1, 'a metric name');
            }
            $this->describe($part[1], $part[2], $part[3] ?? '');
        }

        return false;
    }

    /** @throws BadExposition */
    private function describe(string $what, string $name, string $text): void
    {
        if ($this->family?->name !== $name) {
            $this->endBuckets();
            if (isset($this->families[$name])) {
                if ($this->form === Form::OpenMetrics) {
                    $this->fail(1, "all lines of family {$name} together");
                }
                $this->family = $this->families[$name];
            } else {
                $this->limitName($name);
                $this->family = $this->families[$name] = new Family($name);
            }
        }
        $family = $this->family;
        if ($family->hasSamples && $this->form === Form::OpenMetrics) {
            $this->fail(1, "the # {$what} of {$name} before its samples");
        }
        if ($what === 'HELP') {
            if ($family->help !== null) {
                $this->fail(1, "one # HELP for {$name}");
            }
            $family->help = $this->unescape($text, $this->form === Form::OpenMetrics ? '"' : '');
        } elseif ($what === 'TYPE') {
            if ($family->type !== null) {
                $this->fail(1, "one # TYPE for {$name}");
            }
            $family->type =
                MetricType::inForm(trim($text), $this->form) ??
                $this->fail(
                    strlen($this->line) - strlen($text) + 1,
                    $this->form === Form::OpenMetrics
                        ? 'a type: counter, gauge, histogram, gaugehistogram, summary, info, stateset or unknown'
                        : 'a type: counter, gauge, histogram, summary or untyped',
                );
        } else {
            if ($family->unit !== null) {
                $this->fail(1, "one # UNIT for {$name}");
            }
            if ($text !== '' && !str_ends_with($name, '_' . $text)) {
                $this->fail(strlen($this->line) - strlen($text) + 1, "a unit that ends the name {$name}");
            }
            $family->unit = $text;
        }
    }

    /** @throws BadExposition */
    private function readSample(string $line): void
    {
        if (preg_match('~^' . self::NAME . '~', $line, $part) !== 1) {
            $this->fail(1, 'a metric name');
        }
        $name = $part[0];
        $this->limitName($name);
        $at = strlen($name);
        $blank = $this->form === Form::OpenMetrics ? ' ' : " \t";
        if ($this->form === Form::Plain004) {
            $at += strspn($line, $blank, $at);
        }
        $labels = [];
        if (($line[$at] ?? '') === '{') {
            [$labels, $at] = $this->readLabels($line, $at + 1);
        }
        $rest =
            $this->form === Form::OpenMetrics
                ? substr($line, $at)
                : ' ' . ltrim((string) preg_replace('~[ \t]+~', ' ', substr($line, $at)));
        if (preg_match('~^ ([^ ]+)(?: ([^ #][^ ]*))?( # .*)?$~Ds', $rest, $part) !== 1) {
            $this->fail($at + 1, 'one space and a value, then nothing or a timestamp');
        }
        $value = self::number($part[1]) ?? $this->fail($at + 2, 'a number, NaN, +Inf or -Inf');
        $family = $this->familyOf($name);
        $atMs =
            isset($part[2]) && $part[2] !== ''
                ? $this->timestamp($part[2], $at + strlen($part[1]) + ($this->form === Form::OpenMetrics ? 2 : 1))
                : null;
        if (isset($part[3])) {
            $this->readExemplar($name, $part[3], strlen($line) - strlen($part[3]));
        }
        $this->checkLabelsFor($family, $name, $labels);
        $set = LabelSet::of($labels);
        if ($this->form === Form::OpenMetrics) {
            $this->checkValue($family, $name, $set, $value, $atMs);
        }
        $identity = $name . '{' . $set->key();
        if (array_key_exists($identity, $this->seen)) {
            $before = $this->seen[$identity];
            if ($atMs === null || $before === null) {
                $this->fail(1, 'each series once; this one stands further up already');
            }
            if ($atMs <= $before) {
                $this->fail(1, 'a later timestamp than the one this series has further up');
            }
        }
        $this->seen[$identity] = $atMs;
        $family->hasSamples = true;
        $sample = new Sample($name, $set, $value, $atMs, $family);
        if ($this->take === null) {
            $this->samples[] = $sample;
        } else {
            ($this->take)($sample);
        }
        if (++$this->readings > $this->limits->readings) {
            $this->fail(1, "at most {$this->limits->readings} readings in one text; send them more often, or as files");
        }
        if (count($this->seen) > $this->limits->series) {
            $this->fail(1, "at most {$this->limits->series} series in one scrape; split the target, or raise the limit in Setup");
        }
    }

    /**
     * @return array{array<string, string>, int} the labels and where the text goes on
     *
     * @throws BadExposition
     */
    private function readLabels(string $line, int $at): array
    {
        $labels = [];
        $free = $this->form === Form::Plain004;
        while (true) {
            if ($free) {
                $at += strspn($line, " \t", $at);
            }
            if (($line[$at] ?? '') === '}' && ($labels === [] || $free)) {
                return [$labels, $at + 1];
            }
            $from = $at;
            if ($free && preg_match('~\G([a-zA-Z_][a-zA-Z0-9_]*)[ \t]*=[ \t]*"~', $line, $open, 0, $at) === 1) {
                $pair = $open[1] . '=';
                $from = $at + strlen($open[0]) - 1 - strlen($pair);
                $line = substr_replace(
                    $line,
                    str_repeat(' ', strlen($open[0]) - 1 - strlen($pair)) . $pair,
                    $at,
                    strlen($open[0]) - 1,
                );
            }
            if (preg_match(self::LABEL_PAIR, $line, $part, 0, $from) !== 1) {
                $this->fail($at + 1, 'a label as name="value", with \\ and " in the value escaped, or the closing }');
            }
            if (isset($labels[$part[1]])) {
                $this->fail($at + 1, "label {$part[1]} once");
            }
            $labels[$part[1]] = $this->unescape($part[2], '"');
            if (count($labels) > $this->limits->labels) {
                $this->fail($at + 1, "at most {$this->limits->labels} labels");
            }
            if (strlen($part[2]) > $this->limits->labelBytes || strlen($part[1]) > $this->limits->nameBytes) {
                $this->fail($at + 1, "a label value of at most {$this->limits->labelBytes} bytes");
            }
            $at = $from + strlen($part[0]);
            if ($free) {
                $at += strspn($line, " \t", $at);
            }
            $next = $line[$at] ?? '';
            if ($next === ',') {
                ++$at;
                if (!$free && ($line[$at] ?? '') === '}') {
                    $this->fail($at + 1, 'a label after the comma');
                }
            } elseif ($next !== '}') {
                $this->fail($at + 1, 'a comma or the closing }');
            } else {
                return [$labels, $at + 1];
            }
        }
    }

    /** @throws BadExposition */
    private function familyOf(string $name): Family
    {
        if ($this->family !== null && $this->belongs($this->family, $name)) {
            return $this->family;
        }
        if ($this->form === Form::Plain004) {
            foreach (['', '_bucket', '_sum', '_count'] as $suffix) {
                $base = $suffix === '' ? $name : (str_ends_with($name, $suffix) ? substr($name, 0, -strlen($suffix)) : null);
                if ($base !== null && isset($this->families[$base]) && $this->belongs($this->families[$base], $name)) {
                    return $this->family = $this->families[$base];
                }
            }
        } elseif ($this->family?->type !== null && str_starts_with($name, $this->family->name) && !$this->family->hasSamples) {
            $allowed = array_map(
                fn(string $suffix): string => $this->family->name . $suffix,
                $this->family->type->suffixes($this->form),
            );
            $this->fail(1, "a sample of the {$this->family->type->value} {$this->family->name}: " . implode(', ', $allowed));
        }
        if (isset($this->families[$name])) {
            $this->fail(1, "all lines of family {$name} together");
        }

        $this->endBuckets();

        return $this->family = $this->families[$name] = new Family($name);
    }

    private function belongs(Family $family, string $name): bool
    {
        if (!str_starts_with($name, $family->name)) {
            return false;
        }

        return in_array(
            substr($name, strlen($family->name)),
            ($family->type ?? MetricType::Unknown)->suffixes($this->form),
            true,
        );
    }

    /**
     * @param array<string, string> $labels
     *
     * @throws BadExposition
     */
    private function checkLabelsFor(Family $family, string $name, array $labels): void
    {
        $needed = match ($family->type) {
            MetricType::Histogram, MetricType::GaugeHistogram => str_ends_with($name, '_bucket') ? 'le' : null,
            MetricType::Summary => $name === $family->name ? 'quantile' : null,
            MetricType::StateSet => $family->name,
            default => null,
        };
        if ($needed === null) {
            return;
        }
        if (!isset($labels[$needed])) {
            $this->fail(strlen($name) + 1, "label {$needed}");
        }
        if ($needed !== $family->name && self::number($labels[$needed]) === null) {
            $this->fail(strlen($name) + 1, "a number in label {$needed}");
        }
    }

    /**
     * What the standard asks of states and of buckets (OpenMetrics 1.0, StateSet and Histogram).
     *
     * @throws BadExposition
     */
    private function checkValue(Family $family, string $name, LabelSet $labels, float $value, ?int $atMs): void
    {
        if ($family->type === MetricType::StateSet) {
            if (!($value === 0.0 || $value === 1.0)) {
                $this->fail(strlen($this->line), '0 or 1 for a state');
            }
            $this->states[] = $this->readings;
        }
        $isBucket =
            in_array($family->type, [MetricType::Histogram, MetricType::GaugeHistogram], true) && str_ends_with($name, '_bucket');
        if (!$isBucket) {
            $this->lastHistogram = null;

            return;
        }
        $histogram = "{$atMs} {$name}{" . $labels->without(['le'])->key();
        $expected = $this->buckets->take($histogram, (float) self::number($labels->get('le')), $value, $this->lineNumber);
        if ($expected !== null) {
            $this->fail(strlen($name) + 1, $expected);
        }
        if ($histogram === $this->lastHistogram) {
            $this->rising[] = $this->readings;
        }
        $this->lastHistogram = $histogram;
    }

    /** @throws BadExposition */
    private function timestamp(string $text, int $column): int
    {
        if ($this->form === Form::Plain004) {
            return preg_match('~^-?\d{1,18}$~D', $text) === 1
                ? (int) $text
                : $this->fail($column + 1, 'a timestamp in whole milliseconds');
        }
        if (preg_match('~^-?\d{1,15}(?:\.\d+)?(?:[eE][+-]?\d{1,2})?$~D', $text) !== 1 || abs((float) $text) > 1e15) {
            $this->fail($column + 1, 'a timestamp in seconds');
        }

        return (int) round((float) $text * 1000);
    }

    /** @throws BadExposition */
    private function readExemplar(string $name, string $text, int $column): void
    {
        if (!str_ends_with($name, '_bucket') && !str_ends_with($name, '_total')) {
            $this->fail($column + 1, 'an exemplar only on a bucket or a counter');
        }
        if (!str_starts_with($text, ' # {')) {
            $this->fail($column + 4, 'an exemplar as # {labels} value');
        }
        [, $at] = $this->readLabels($text, 4);
        if (preg_match('~^ (\S+)(?: (\S+))?$~D', substr($text, $at), $part) !== 1 || self::number($part[1]) === null) {
            $this->fail($column + $at + 1, 'the value of the exemplar');
        }
        if (isset($part[2])) {
            $this->timestamp($part[2], $column + $at);
        }
    }

    /**
     * `\\`, `\n` and, where it may stand, `\"`; the older form's HELP keeps its quotes.
     *
     * @throws BadExposition
     */
    private function unescape(string $text, string $quote): string
    {
        if (!str_contains($text, '\\')) {
            return $text;
        }

        return (string) preg_replace_callback(
            '~\\\\(.?)~s',
            fn(array $escape): string => match ($escape[1]) {
                '\\' => '\\',
                'n' => "\n",
                '"' => $quote === '"' ? '"' : '\\"',
                default => $this->form === Form::Plain004
                    ? $escape[0]
                    : $this->fail(max(1, (int) strpos($this->line, $escape[0]) + 1), 'one of the escapes \\\\ \\" \\n'),
            },
            $text,
        );
    }

    /** @throws BadExposition */
    private function limitName(string $name): void
    {
        if (strlen($name) > $this->limits->nameBytes) {
            $this->fail(1, "a name of at most {$this->limits->nameBytes} bytes");
        }
    }

    /** @throws BadExposition */
    private function findBadEncoding(string $text): never
    {
        foreach (explode("\n", $text) as $i => $line) {
            if (!mb_check_encoding($line, 'UTF-8')) {
                $this->lineNumber = $i + 1;
                $this->line = $line;
                $this->fail(
                    strlen(
                        (string) preg_replace(
                            '~^((?:[\x00-\x7F]|[\xC2-\xDF][\x80-\xBF]|[\xE0-\xEF][\x80-\xBF]{2}|[\xF0-\xF4][\x80-\xBF]{3})*).*$~Ds',
                            '$1',
                            $line,
                        ),
                    ) + 1,
                    'UTF-8',
                );
            }
        }
        $this->fail(1, 'UTF-8');
    }

    /** @throws BadExposition */
    private function fail(int $column, string $expected): never
    {
        throw new BadExposition($this->lineNumber, $column, $this->line, $expected);
    }
}

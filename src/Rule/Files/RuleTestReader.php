<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\App\Files\Kinds;
use Olivine\App\Files\YamlFile;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\Limits;
use Olivine\Core\Exposition\TextReader;
use Olivine\Core\Exposition\TextReadings;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Node\Number;
use Olivine\Core\Formula\Node\Unit;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * Reads rule tests. Readings are written as values with how often they come, one each `every`:
 * `100 x 20, 500 x 4, 500 to 100 x 5, nothing x 8` is 20 times 100, 4 times 500, five that fall evenly from 500 to 100, and
 * eight that are missing.
 */
final readonly class RuleTestReader
{
    public const KIND = Kinds::RULE_TESTS;
    public const KEYS = ['rule', 'from', 'every', 'readings', 'expect'];
    private const EXPECTED_KEYS = ['at', 'to', 'severity', 'labels'];
    private const MOST_READINGS = 1_000_000;

    /**
     * Faults are told by the file.
     *
     * @return list<RuleTest>
     */
    public static function read(YamlFile $file): array
    {
        $tests = [];
        foreach ($file->things(self::KIND) as $name => $written) {
            $path = [self::KIND, (string) $name];
            $before = count($file->faults());
            $written = $file->map($path, $written);
            $file->refuseUnknown($path, $written, self::KEYS);
            if (count($file->faults()) > $before) {
                continue;
            }
            try {
                $tests[] = self::test($file, $path, $written);
            } catch (BadTest $fault) {
                $file->fault($fault->path, $fault->getMessage());
            }
        }

        return $tests;
    }

    /**
     * @param list<string>            $path
     * @param array<array-key, mixed> $written
     *
     * @throws BadTest
     */
    private static function test(YamlFile $file, array $path, array $written): RuleTest
    {
        $from = self::instant([...$path, 'from'], $written['from'] ?? '2026-01-01T00:00:00Z');
        $every = self::duration([...$path, 'every'], $written['every'] ?? '15s');
        if ($every->ms < 1) {
            throw new BadTest([...$path, 'every'], 'every must be longer than nothing');
        }
        $text = '';
        $instants = 0;
        foreach ($file->map([...$path, 'readings'], $written['readings'] ?? []) as $series => $values) {
            $values = self::values([...$path, 'readings', (string) $series], $values);
            $instants = max($instants, count($values));
            foreach ($values as $i => $value) {
                $text .= $value === null ? '' : "{$series} {$value} " . $from->plus($every->times($i))->ms . "\n";
            }
        }
        try {
            $readings = new TextReadings(TextReader::read($text, Form::Plain004, Limits::forFiles()), $every->ms);
        } catch (BadExposition $error) {
            throw new BadTest([...$path, 'readings'], "a series is no series: {$error->getMessage()}");
        }
        $rule = $written['rule'] ?? null;

        return new RuleTest(
            $path[1],
            is_string($rule) ? $rule : throw new BadTest([...$path, 'rule'], 'rule names the rule by its key'),
            $from,
            $from->plus($every->times(max(0, $instants - 1))),
            $readings,
            self::expected([...$path, 'expect'], $written['expect'] ?? []),
            $file->name,
            $file->lineOf($path),
        );
    }

    /**
     * @param list<string> $path
     *
     * @return list<string|null>
     *
     * @throws BadTest
     */
    private static function values(array $path, mixed $written): array
    {
        $values = [];
        foreach (explode(',', is_scalar($written) ? (string) $written : '') as $part) {
            $isRead = preg_match('~^\s*(nothing|[-+]?[\d.eE+-]+)(?:\s+to\s+([-+]?[\d.eE+-]+))?(?:\s*x\s*(\d{1,7}))?\s*$~D', $part, $found);
            $times = (int) ($found[3] ?? 1);
            $numbers = array_filter([$found[1] ?? '', $found[2] ?? ''], static fn(string $one): bool => $one !== '' && $one !== 'nothing');
            if ($isRead !== 1 || array_filter($numbers, is_numeric(...)) !== $numbers) {
                throw new BadTest($path, 'readings are values and how often they come, such as 100 x 20, 500 to 100 x 5, nothing x 8; not ' . trim($part));
            }
            if (count($values) + $times > self::MOST_READINGS) {
                throw new BadTest($path, sprintf('that would be more than %d readings', self::MOST_READINGS));
            }
            for ($i = 0; $i < $times; ++$i) {
                $values[] = $found[1] === 'nothing' ? null : self::between($found[1], $found[2] ?? '', $i, $times);
            }
        }

        return $values;
    }

    private static function between(string $first, string $last, int $i, int $times): string
    {
        return $last === '' || $times < 2
            ? $first
            : (string) json_encode((float) $first + (((float) $last - (float) $first) * $i) / ($times - 1));
    }

    /**
     * @param list<string> $path
     *
     * @return list<ExpectedMove>
     *
     * @throws BadTest
     */
    private static function expected(array $path, mixed $written): array
    {
        if (!is_array($written) || !array_is_list($written)) {
            throw new BadTest($path, 'expect must be a list, such as - { at: 10m, to: raised, severity: major }');
        }
        $expected = [];
        foreach ($written as $i => $one) {
            $at = [...$path, (string) $i];
            if (!is_array($one) || array_diff(array_map(strval(...), array_keys($one)), self::EXPECTED_KEYS) !== []) {
                throw new BadTest($at, 'what is expected has the keys ' . implode(', ', self::EXPECTED_KEYS) . ' only');
            }
            $to = is_string($one['to'] ?? null) ? Phase::tryFrom($one['to']) : null;
            $severity = is_string($one['severity'] ?? null) ? Severity::tryFrom($one['severity']) : null;
            if ($to === null || (isset($one['severity']) && $severity === null)) {
                throw new BadTest(
                    $at,
                    'to must be one of ' .
                        implode(', ', array_column(Phase::cases(), 'value')) .
                        ', and severity one of ' .
                        implode(', ', array_column(Severity::cases(), 'value')),
                );
            }
            $labels = [];
            foreach ((array) ($one['labels'] ?? []) as $label => $value) {
                $labels[(string) $label] = is_scalar($value) ? (string) $value : throw new BadTest($at, 'labels are words');
            }
            $expected[] = new ExpectedMove(self::duration($at, $one['at'] ?? ''), $to, $severity, $labels);
        }

        return $expected;
    }

    /**
     * @param list<string> $path
     *
     * @throws BadTest
     */
    private static function duration(array $path, mixed $written): Duration
    {
        try {
            $number = is_scalar($written) ? Parser::parse((string) $written) : null;
        } catch (FormulaError) {
            $number = null;
        }

        return $number instanceof Number && ($number->unit === Unit::Seconds || $number->value === 0.0) && $number->value < 1e9
            ? Duration::ofMs((int) round(1000 * $number->value))
            : throw new BadTest($path, 'here stands a duration, such as 10m');
    }

    /**
     * @param list<string> $path
     *
     * @throws BadTest
     */
    private static function instant(array $path, mixed $written): Instant
    {
        if (is_int($written)) {
            return Instant::ofMs(1000 * $written);
        }
        $isOne = is_string($written) && preg_match('~^\d{4}-\d{2}-\d{2}T~', $written) === 1;
        $read = $isOne ? date_create_immutable($written, new \DateTimeZone('UTC')) : false;

        return $read === false
            ? throw new BadTest($path, 'from must be a time such as 2026-11-23T03:12:00Z')
            : Instant::ofMs((int) $read->format('Uv'));
    }
}

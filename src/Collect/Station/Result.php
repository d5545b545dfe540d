<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Station;

use Olivine\App\Collect\Answer\CheckStep;
use Olivine\App\Collect\Check\CheckRun;
use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Exposition\MetricType;

/**
 * One asking as it is on its way from a station: what was seen, in the words and readings that it comes to. Whatever does not fit is
 * refused as a whole.
 */
final readonly class Result
{
    private const MOST_READINGS = 500;
    private const LONGEST_WORDS = 1_000;
    private const LONGEST_ANSWER = 262_144;
    private const LONGEST_STEPS = 400_000;

    /**
     * @param int                        $number   of all that this station ever brings, rising
     * @param int                        $atMs     when it ended, by the clock there
     * @param list<CheckReading>         $readings
     * @param list<array<string, mixed>> $steps    as a CheckStep each; of what was well none are sent
     */
    private function __construct(
        public int $number,
        public int $check,
        public int $atMs,
        public float $seconds,
        public Verdict $verdict,
        public string $words,
        public array $readings,
        public array $steps,
        public string $answer,
    ) {
    }

    public static function of(int $number, CheckRun $run): self
    {
        $judgement = $run->verdict();
        $isWell = $judgement->verdict === Verdict::Runs;
        /** @var list<array<string, mixed>> $steps */
        $steps = $isWell ? [] : json_decode(
            json_encode($run->stepsAndWay(), JSON_THROW_ON_ERROR | JSON_INVALID_UTF8_SUBSTITUTE | JSON_PRESERVE_ZERO_FRACTION),
            true,
        );

        return new self(
            $number,
            $run->target->id(),
            (int) floor($run->endedAt * 1000),
            $run->seconds(),
            $judgement->verdict,
            mb_substr(mb_scrub($judgement->words), 0, self::LONGEST_WORDS),
            $judgement->readings,
            $steps,
            $isWell ? '' : $run->lastAnswer(),
        );
    }

    public function line(): string
    {
        $readings = array_map(static fn(CheckReading $one): array => [
            $one->metric,
            $one->value,
            (object) $one->labels,
            $one->type->value,
            $one->unit,
            $one->help,
        ], $this->readings);

        return json_encode([
            'number' => $this->number,
            'check' => $this->check,
            'at' => $this->atMs,
            'seconds' => $this->seconds,
            'verdict' => $this->verdict->value,
            'words' => $this->words,
            'readings' => $readings,
            'steps' => $this->steps,
            'answer' => $this->answer === '' ? '' : base64_encode((string) gzdeflate($this->answer)),
        ], JSON_THROW_ON_ERROR | JSON_INVALID_UTF8_SUBSTITUTE | JSON_PRESERVE_ZERO_FRACTION);
    }

    /** @return self|null null where it cannot be read */
    public static function read(mixed $written): ?self
    {
        $written = is_string($written) ? json_decode($written, true, 16) : $written;
        if (!is_array($written)) {
            return null;
        }
        $verdict = is_string($written['verdict'] ?? null) ? Verdict::tryFrom($written['verdict']) : null;
        $readings = self::readings($written['readings'] ?? null);
        $steps = self::steps($written['steps'] ?? null);
        $answer = is_string($written['answer'] ?? null) ? self::opened($written['answer']) : null;
        $numbers = array_map(static fn(string $name): mixed => $written[$name] ?? null, ['number', 'check', 'at']);
        if ($verdict === null || $readings === null || $steps === null || $answer === null || array_filter($numbers, is_int(...)) !== $numbers) {
            return null;
        }
        $words = $written['words'] ?? null;
        $seconds = $written['seconds'] ?? null;
        if (!is_string($words) || mb_strlen($words) > self::LONGEST_WORDS || !is_numeric($seconds) || $seconds < 0 || $seconds > 600) {
            return null;
        }
        /** @var array{int, int, int} $numbers */

        return new self($numbers[0], $numbers[1], $numbers[2], (float) $seconds, $verdict, $words, $readings, $steps, $answer);
    }

    public function judgement(): Judgement
    {
        return new Judgement($this->verdict, $this->words, $this->readings);
    }

    /** @return list<CheckReading>|null */
    private static function readings(mixed $written): ?array
    {
        if (!is_array($written) || !array_is_list($written) || count($written) > self::MOST_READINGS) {
            return null;
        }
        $readings = [];
        foreach ($written as $one) {
            if (!is_array($one) || !array_is_list($one) || count($one) !== 6) {
                return null;
            }
            [$metric, $value, $labels, $type, $unit, $help] = $one;
            $type = is_string($type) ? MetricType::tryFrom($type) : null;
            $isOf = is_string($metric) && preg_match('~^[a-zA-Z_][a-zA-Z0-9_]{0,119}$~D', $metric) === 1 && (is_int($value) || is_float($value));
            if (!$isOf || $type === null || !is_string($unit) || !is_string($help) || strlen($unit . $help) > 1_000 || !self::areLabels($labels)) {
                return null;
            }
            /** @var array<string, string> $labels */
            $readings[] = new CheckReading($metric, (float) $value, $labels, $type, $unit, $help);
        }

        return $readings;
    }

    private static function areLabels(mixed $labels): bool
    {
        if (!is_array($labels) || count($labels) > 10) {
            return false;
        }
        foreach ($labels as $name => $value) {
            if (preg_match('~^[a-zA-Z_][a-zA-Z0-9_]{0,60}$~D', (string) $name) !== 1 || !is_string($value) || strlen($value) > 500) {
                return false;
            }
        }

        return true;
    }

    /** @return list<array<string, mixed>>|null */
    private static function steps(mixed $written): ?array
    {
        if (!is_array($written) || !array_is_list($written) || strlen((string) json_encode($written)) > self::LONGEST_STEPS) {
            return null;
        }
        $names = array_map(
            static fn(\ReflectionParameter $one): string => $one->getName(),
            (new \ReflectionMethod(CheckStep::class, '__construct'))->getParameters(),
        );
        foreach ($written as $step) {
            if (!is_array($step) || array_diff(array_keys($step), $names) !== []) {
                return null;
            }
        }

        /** @var list<array<string, mixed>> $written */
        return $written;
    }

    private static function opened(string $answer): ?string
    {
        if ($answer === '') {
            return '';
        }
        $text = @gzinflate((string) base64_decode($answer, true), self::LONGEST_ANSWER);

        return $text === false ? null : $text;
    }
}

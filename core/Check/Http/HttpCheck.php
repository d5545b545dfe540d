<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Http;

use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Phases;
use Olivine\Core\Check\Tls\TlsCheck;
use Olivine\Core\Check\Verdict;

/**
 * A page, or a way through several, asked as a user would. The steps are gone through in their order; one that is not answered as
 * expected is the last.
 *
 * Down: the first step got no answer, or one that says the server cannot (5xx). Runs partly: it answers, and something is not as
 * expected, or a later step failed. Unknown: it could not be asked, for a reason on our side.
 */
final readonly class HttpCheck
{
    /**
     * @param non-empty-list<HttpStep> $steps
     * @param int|null                 $slowMs above this, all steps together, the answer is slow
     */
    public function __construct(public array $steps, public ?int $slowMs = null)
    {
    }

    /**
     * @param array<string, string> $known secrets, and what was taken so far
     *
     * @return HttpStep|null what is to be asked next; null where it is over
     */
    public function next(array $known, HttpExchange ...$before): ?HttpStep
    {
        $last = $before[count($before) - 1] ?? null;
        if ($last !== null && ($last->answer === null || $this->faults($last) !== [])) {
            return null;
        }

        return ($this->steps[count($before)] ?? null)?->filled($known);
    }

    /** @return array<string, string> what is taken from this answer, by name */
    public static function taken(HttpExchange $exchange): array
    {
        if ($exchange->answer === null) {
            return [];
        }
        $taken = [];
        foreach ($exchange->step->takes as $take) {
            $text = $take->from($exchange->answer);
            if ($text !== null) {
                $taken[$take->name] = $text;
            }
        }

        return $taken;
    }

    /** @param int $nowMs when the last answer was whole */
    public function judge(int $nowMs, HttpExchange ...$exchanges): Judgement
    {
        $seconds = array_sum(array_map(static fn(HttpExchange $one): float => $one->phases->total(), $exchanges));
        $last = $exchanges[count($exchanges) - 1] ?? null;
        if ($last === null) {
            return new Judgement(Verdict::Unknown, 'It was not asked', []);
        }
        $faults = $last->answer === null ? [(string) $last->fault] : $this->faults($last);
        $verdict = $this->verdict($exchanges, $last, $faults);
        $isSlow = $faults === [] && $this->slowMs !== null && $seconds * 1000 > $this->slowMs;
        // The phases are told of each step.
        $readings = array_slice(CheckReading::common($verdict, new Phases(wait: $seconds), $isSlow), 0, $verdict === Verdict::Unknown ? 0 : 4);
        foreach ($exchanges as $exchange) {
            $readings = [...$readings, ...$this->readings($exchange, $nowMs)];
        }
        // Steps at the same server show the same ones.
        $shown = array_merge(...array_map(static fn(HttpExchange $one): array => $one->answer->chain ?? [], array_values($exchanges)));
        $readings = [...$readings, ...TlsCheck::ends($shown)];
        $words = implode('; ', $faults);
        $words = mb_strtoupper(mb_substr($words, 0, 1)) . mb_substr($words, 1);
        $where = count($this->steps) > 1 && $words !== '' ? "Step {$last->step->name}: " : '';

        return new Judgement($verdict, $isSlow ? Judgement::slow($seconds, (int) $this->slowMs) : $where . $words, $readings);
    }

    /**
     * @param array<HttpExchange> $exchanges
     * @param list<string>        $faults
     */
    private function verdict(array $exchanges, HttpExchange $last, array $faults): Verdict
    {
        return match (true) {
            $last->isOurs => Verdict::Unknown,
            $faults === [] => Verdict::Runs,
            count($exchanges) > 1 => Verdict::Partly,
            $last->answer === null, $last->answer->status >= 500 => Verdict::Down,
            default => Verdict::Partly,
        };
    }

    /** @return list<string> what is not as it should be in this answer */
    private function faults(HttpExchange $exchange): array
    {
        $answer = $exchange->answer;
        if ($answer === null) {
            return [(string) $exchange->fault];
        }
        $faults = $exchange->step->expects->missing($answer);
        if ($faults !== [] && in_array($answer->status, [401, 403, 407], true)) {
            return ["It needs a login that may read this: it answered with status {$answer->status}"];
        }
        if ($faults !== []) {
            return $faults;
        }
        foreach ($exchange->step->takes as $take) {
            if ($take->from($answer) === null) {
                $where = is_string($take->where) ? "the header {$take->where}" : $take->where->words();
                $faults[] = "There was nothing to take as {$take->name} from {$where}";
            }
        }
        foreach ($exchange->step->values as $value) {
            if ($value->from($answer, []) === null) {
                $faults[] = "There was no number for {$value->metric} at {$value->place->words()}";
            }
        }

        return $faults;
    }

    /** @return list<CheckReading> */
    private function readings(HttpExchange $exchange, int $nowMs): array
    {
        $labels = count($this->steps) > 1 ? ['step' => $exchange->step->name] : [];
        $readings = CheckReading::ofPhases($exchange->phases, $labels);
        $answer = $exchange->answer;
        if ($answer === null) {
            return $readings;
        }
        $readings[] = new CheckReading('check_status_code', (float) $answer->status, $labels);
        $readings[] = new CheckReading('check_answer_bytes', (float) strlen($answer->body), $labels, unit: 'bytes');
        if ($answer->chain !== []) {
            $left = ($answer->chain[0]->untilMs - $nowMs) / 1000;
            $readings[] = new CheckReading('check_certificate_left_seconds', $left, $labels, unit: 'seconds');
        }
        foreach ($exchange->step->values as $value) {
            $reading = $value->from($answer, $labels);
            if ($reading !== null) {
                $readings[] = $reading;
            }
        }

        return $readings;
    }
}

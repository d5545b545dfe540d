<?php

declare(strict_types=1);

namespace Olivine\Core\Rule\Sentence;

use Olivine\Core\Formula\BaselineMethod;
use Olivine\Core\Formula\Nearest;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Baseline;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Condition\Absence;
use Olivine\Core\Rule\Condition\Change;
use Olivine\Core\Rule\Condition\Departure;
use Olivine\Core\Rule\Condition\Forecast;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Rule\Counting;
use Olivine\Core\Rule\Holding;
use Olivine\Core\Rule\Level;
use Olivine\Core\Rule\Limited;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
use Olivine\Core\Rule\Together;
use Olivine\Core\Rule\Way;
use Olivine\Core\Time\Duration;

/**
 * Reads the words of a rule. The mildest severity says all; a graver one says the same with its own limit, and may leave out how
 * long, how often and how much at least.
 */
final readonly class SentenceReader
{
    public const METHODS = [
        'median' => BaselineMethod::Median,
        'average' => BaselineMethod::Mean,
        'recent average' => BaselineMethod::Ewma,
        'same hours' => BaselineMethod::SameHour,
        'same weekdays' => BaselineMethod::SameWeekday,
    ];
    private const USUALLY_KNOWN_DAYS = 1;

    /**
     * @throws BadSentence with the place of the fault
     * @throws BadRule     naming the field that cannot be so
     */
    public static function read(Sentence $sentence): Raising
    {
        [$conditions, $hold] = self::conditions($sentence->raise);
        $first = array_values($conditions)[0];
        $limits = $first instanceof Limited ? $first->limits() : null;
        $words = Words::of('clear', $sentence->clear);
        [$clear, $clearTo] = $limits === null ? [0.0, INF] : self::clear($words, $limits);
        $clearHold = $words->took('for') ? $words->duration() : $hold;
        $words->end();
        $levels = [];
        foreach ($conditions as $condition) {
            array_push($levels, ...$condition instanceof Limited ? $condition->limits()->levels : []);
        }
        [$blindSeverity, $blindAfter, $lostAfter] = self::unseen($sentence->unseen);

        return new Raising(
            $first instanceof Limited && $limits !== null ? $first->limitedBy(new Limits($limits->side, $levels, $clear, $clearTo)) : $first,
            new Holding($hold, $clearHold, $blindAfter, $blindSeverity, $lostAfter),
            $sentence->together === '' ? null : self::together($sentence->together),
        );
    }

    /**
     * @param array<string, string> $raise severity → words
     *
     * @return array{non-empty-array<string, Condition>, Duration} the mildest first; how long it must hold
     *
     * @throws BadSentence
     * @throws BadRule
     */
    private static function conditions(array $raise): array
    {
        foreach (array_keys($raise) as $name) {
            if (Severity::tryFrom((string) $name) === null) {
                $known = array_column(Severity::cases(), 'value');
                $near = Nearest::to((string) $name, $known);
                $remedy = $near === null ? 'there are ' . implode(', ', $known) : "did you mean {$near}?";
                throw new BadSentence("raise.{$name}", new Place(0, 1), "there is no severity {$name}; {$remedy}");
            }
        }
        uksort($raise, static fn(string $a, string $b): int => Severity::from($a)->rank() <=> Severity::from($b)->rank());
        $conditions = [];
        $first = null;
        $hold = Duration::none();
        foreach ($raise as $name => $text) {
            $words = Words::of("raise.{$name}", $text);
            $severity = Severity::from($name);
            [$condition, $held] = self::condition($words, $severity, $first);
            if ($first !== null && !self::differInLimitsOnly($first, $condition)) {
                throw new BadSentence("raise.{$name}", new Place(0, strlen($text)), 'may differ from what is milder in its limit only');
            }
            if ($first !== null && $held !== null && $held->ms !== $hold->ms) {
                throw new BadSentence("raise.{$name}", new Place(0, strlen($text)), 'must hold as long as what is milder, or leave it out');
            }
            $hold = $first === null ? $held ?? $hold : $hold;
            $first ??= $condition;
            $conditions[$name] = $condition;
        }

        return $conditions === []
            ? throw new BadSentence('raise', new Place(0, 0), 'raise says what is raised at least once, such as major: above 400 for 5m')
            : [$conditions, $hold];
    }

    /**
     * @param Condition|null $milder that says what is left out
     *
     * @return array{Condition, Duration|null} and how long it must hold, where that is said
     *
     * @throws BadSentence
     * @throws BadRule
     */
    private static function condition(Words $words, Severity $severity, ?Condition $milder): array
    {
        $kind = $words->choose([
            'above' => fn(): Condition => self::threshold($words, $severity, Side::Above),
            'below' => fn(): Condition => self::threshold($words, $severity, Side::Below),
            'outside' => fn(): Condition => self::threshold($words, $severity, Side::Outside),
            'inside' => fn(): Condition => self::threshold($words, $severity, Side::Inside),
            'departs from' => fn(): Condition => self::departure($words, $severity, Way::Moves),
            'departs above' => fn(): Condition => self::departure($words, $severity, Way::Rises),
            'departs below' => fn(): Condition => self::departure($words, $severity, Way::Falls),
            'will pass' => fn(): Condition => self::forecast($words, $severity, Side::Above),
            'will fall below' => fn(): Condition => self::forecast($words, $severity, Side::Below),
            'rises by' => fn(): Condition => self::change($words, $severity, Way::Rises),
            'falls by' => fn(): Condition => self::change($words, $severity, Way::Falls),
            'moves by' => fn(): Condition => self::change($words, $severity, Way::Moves),
            'not seen' => static fn(): Condition => new Absence($severity),
        ]);
        $condition = $kind();
        $condition = self::leftOut($condition, $milder);
        $hold = null;
        while (!$words->isAtEnd()) {
            if ($words->took('for')) {
                $hold = $words->duration();
            } elseif ($condition instanceof Threshold && $words->took('at')) {
                $condition = new Threshold($condition->limits, self::counting($words));
            } elseif ($condition instanceof Departure && ($words->took(',', 'if') || $words->took('if'))) {
                $words->take('if at least 15%', 'at', 'least');
                $condition = new Departure($condition->baseline, $condition->way, $condition->limits, $words->number());
            } else {
                $words->end();
            }
        }

        return [$condition, $hold];
    }

    /**
     * @throws BadSentence
     * @throws BadRule
     */
    private static function threshold(Words $words, Severity $severity, Side $side): Threshold
    {
        $limit = $words->number();
        $to = INF;
        if ($side->isRange()) {
            $words->take("{$side->value} 10 to 20", 'to');
            $to = $words->number();
        }

        return new Threshold(self::limits($side, $severity, $limit, $to));
    }

    /**
     * @throws BadSentence
     * @throws BadRule
     */
    private static function departure(Words $words, Severity $severity, Way $way): Departure
    {
        $words->take('departs from its usual (same hours of 14d) by 5', 'its');
        $baseline = $words->choose(['twins' => false, 'usual' => true]) ? self::past($words) : self::twins($words);
        $words->take('by 5', 'by');

        return new Departure($baseline, $way, self::limits(Side::Above, $severity, $words->number()));
    }

    /** How much of a past must be known where nothing is said of that. */
    public static function usuallyKnown(Duration $span): Duration
    {
        $usually = Duration::ofDays(self::USUALLY_KNOWN_DAYS);

        return $usually->isLongerThan($span) ? $span : $usually;
    }

    /**
     * @throws BadSentence
     * @throws BadRule
     */
    private static function past(Words $words): Baseline
    {
        $example = 'its usual (same hours of 14d)';
        $words->take($example, '(');
        $method = $words->choose(self::METHODS);
        if (!$words->took('of')) {
            $words->take($example, ',');
        }
        $span = $words->duration();
        $known = self::usuallyKnown($span);
        if ($words->took(',')) {
            $words->take('known for 1d', 'known', 'for');
            $known = $words->duration();
        }
        $words->take($example, ')');

        return Baseline::ofPast($method, $span, $known);
    }

    /** @throws BadSentence */
    private static function twins(Words $words): Baseline
    {
        return Baseline::ofTwins($words->took('per') ? $words->labels() : []);
    }

    /**
     * @throws BadSentence
     * @throws BadRule
     */
    private static function forecast(Words $words, Severity $severity, Side $side): Forecast
    {
        $limit = $words->number();
        $words->take('within 24h', 'within');

        return new Forecast(self::limits($side, $severity, $limit), $words->duration());
    }

    /**
     * @throws BadSentence
     * @throws BadRule
     */
    private static function change(Words $words, Severity $severity, Way $way): Change
    {
        [$amount, $isShare] = $words->amount();
        $words->take('against 1h ago', 'against');
        $ago = $words->duration();
        $words->take('against 1h ago', 'ago');

        return new Change($way, self::limits(Side::Above, $severity, $amount), $ago, $isShare);
    }

    /**
     * @throws BadSentence
     * @throws BadRule
     */
    private static function counting(Words $words): Counting
    {
        $need = $words->count();
        $words->take('at 3 of the last 5 looks', 'of', 'the', 'last');
        $of = $words->count();
        $words->took('looks');

        return new Counting($need, $of);
    }

    /**
     * @return array{float, float}
     *
     * @throws BadSentence
     */
    private static function clear(Words $words, Limits $limits): array
    {
        $mildest = $limits->mildest;
        $example = $limits->side->backWords();
        if ($words->isAtEnd()) {
            return [$mildest->limit, $mildest->to];
        }
        if (!$words->took(...explode(' ', $example))) {
            // What is left says for how long.
            return [$mildest->limit, $mildest->to];
        }
        $clear = $words->number();
        if (!$limits->side->isRange()) {
            return [$clear, INF];
        }
        $words->take("{$example} 10 to 20", 'to');

        return [$clear, $words->number()];
    }

    /**
     * @return array{Severity|null, Duration|null, Duration|null} how grave, after how long, and after how long it is lost
     *
     * @throws BadSentence
     */
    private static function unseen(string $text): array
    {
        if ($text === '') {
            return [null, null, null];
        }
        $words = Words::of('unseen', $text);
        $severity = $words->choose(['nobody' => null] + array_column(
            array_map(static fn(Severity $one): array => [$one->value, $one], Severity::cases()),
            1,
            0,
        ));
        $words->take('minor after 10m', 'after');
        $blindAfter = $words->duration();
        $lostAfter = null;
        if ($words->took(',')) {
            $words->take('lost after 3d', 'lost', 'after');
            $lostAfter = $words->duration();
        }
        $words->end();

        return [$severity, $blindAfter, $lostAfter];
    }

    /**
     * @throws BadSentence
     * @throws BadRule
     */
    private static function together(string $text): Together
    {
        $words = Words::of('together', $text);
        $example = 'in 3 or more per site';
        $words->take($example, 'in');
        [$least, $share] = [1, null];
        if (!$words->took('any')) {
            [$number, $isShare] = $words->amount();
            if ($isShare) {
                $share = $number;
            } elseif ($number !== floor($number) || $number < 1 || $number > 100_000) {
                throw $words->fault('so many members are a whole number, such as 3, or a share, such as 30%');
            } else {
                $least = (int) $number;
            }
            $words->take($example, 'or', 'more');
            if ($share !== null && $words->took(',')) {
                $words->take('at least 3', 'at', 'least');
                $least = $words->count();
            }
        }
        $per = $words->took('per') ? $words->labels() : [];
        $words->end();

        return new Together($per, $least, $share);
    }

    /** @throws BadRule */
    private static function limits(Side $side, Severity $severity, float $limit, float $to = INF): Limits
    {
        return new Limits($side, [new Level($severity, $limit, $to)], $limit, $to);
    }

    /**
     * With what the milder one said and this one may leave out.
     *
     * @throws BadRule
     */
    private static function leftOut(Condition $condition, ?Condition $milder): Condition
    {
        return match (true) {
            $condition instanceof Threshold && $milder instanceof Threshold => new Threshold($condition->limits, $milder->counting),
            $condition instanceof Departure && $milder instanceof Departure
                => new Departure($condition->baseline, $condition->way, $condition->limits, $milder->least),
            default => $condition,
        };
    }

    /** @throws BadRule */
    private static function differInLimitsOnly(Condition $first, Condition $other): bool
    {
        return $first instanceof Limited
            && $other instanceof Limited
            && $first->limits()->side === $other->limits()->side
            && SentenceWriter::said($other->limitedBy($first->limits())) === SentenceWriter::said($first);
    }
}

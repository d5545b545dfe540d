<?php

declare(strict_types=1);

namespace Olivine\Core\Rule\Sentence;

use Olivine\Core\Formula\Printer;
use Olivine\Core\Rule\Baseline;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Condition\Change;
use Olivine\Core\Rule\Condition\Departure;
use Olivine\Core\Rule\Condition\Forecast;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Rule\Holding;
use Olivine\Core\Rule\Level;
use Olivine\Core\Rule\Limited;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Side;
use Olivine\Core\Rule\Together;
use Olivine\Core\Rule\Way;

/** Writes a rule in words that are read as the same rule. */
final readonly class SentenceWriter
{
    public static function of(Condition $condition, Holding $holding, ?Together $together = null): Sentence
    {
        $raise = [];
        foreach ($condition instanceof Limited ? $condition->limits()->levels : [null] as $i => $level) {
            $said = self::head($condition, $level);
            $raise[$level === null ? $condition->severity()->value : $level->severity->value] = $i > 0
                ? $said
                : $said . self::options($condition) . self::for($holding);
        }

        return new Sentence(
            $raise,
            trim(self::clear($condition) . ' for ' . Printer::duration($holding->clearHold->ms)),
            ($holding->blindSeverity->value ?? 'nobody') .
                ' after ' .
                Printer::duration($holding->blindAfter->ms) .
                ', lost after ' .
                Printer::duration($holding->lostAfter->ms),
            $together === null ? '' : self::together($together),
        );
    }

    /** What raises at first, but not for how long. */
    public static function said(Condition $condition): string
    {
        return self::head($condition, $condition instanceof Limited ? $condition->limits()->mildest : null) . self::options($condition);
    }

    private static function head(Condition $condition, ?Level $level): string
    {
        $limit = self::number($level->limit ?? 0.0);

        return match (true) {
            $condition instanceof Threshold => "{$condition->limits->side->value} {$limit}" . self::to($condition->limits, $level->to ?? INF),
            $condition instanceof Departure => 'departs ' .
                match ($condition->way) {
                    Way::Moves => 'from',
                    Way::Rises => 'above',
                    Way::Falls => 'below',
                } .
                ' its ' .
                self::baseline($condition->baseline) .
                " by {$limit}",
            $condition instanceof Forecast => ($condition->limits->side === Side::Above ? 'will pass' : 'will fall below') .
                " {$limit} within " .
                Printer::duration($condition->within->ms),
            $condition instanceof Change => "{$condition->way->value} by " .
                ($condition->isShare ? self::share($level->limit ?? 0.0) : $limit) .
                ' against ' .
                Printer::duration($condition->ago->ms) .
                ' ago',
            default => 'not seen',
        };
    }

    private static function options(Condition $condition): string
    {
        return match (true) {
            $condition instanceof Threshold && $condition->counting !== null
                => " at {$condition->counting->need} of the last {$condition->counting->of} looks",
            $condition instanceof Departure && $condition->least > 0.0 => ', if at least ' . self::number($condition->least),
            default => '',
        };
    }

    private static function for(Holding $holding): string
    {
        return $holding->hold->isNone() ? '' : ' for ' . Printer::duration($holding->hold->ms);
    }

    private static function clear(Condition $condition): string
    {
        if (!$condition instanceof Limited) {
            return '';
        }
        $limits = $condition->limits();

        return "{$limits->side->backWords()} " . self::number($limits->clear) . self::to($limits, $limits->clearTo);
    }

    private static function to(Limits $limits, float $to): string
    {
        return $limits->side->isRange() ? ' to ' . self::number($to) : '';
    }

    private static function baseline(Baseline $baseline): string
    {
        if ($baseline->method === null) {
            return 'twins' . self::per($baseline->per);
        }
        $method = array_search($baseline->method, SentenceReader::METHODS, true);
        $span = Printer::duration($baseline->span->ms);

        $isAsUsual = $baseline->warmUp->ms === SentenceReader::usuallyKnown($baseline->span)->ms;

        return "usual ({$method} of {$span}" . ($isAsUsual ? '' : ', known for ' . Printer::duration($baseline->warmUp->ms)) . ')';
    }

    private static function together(Together $together): string
    {
        $many = match (true) {
            $together->share !== null => self::share($together->share) .
                ' or more' .
                ($together->least > 1 ? ", at least {$together->least}" : ''),
            $together->least > 1 => "{$together->least} or more",
            default => 'any',
        };

        return "in {$many}" . self::per($together->per);
    }

    /** @param list<string> $labels */
    private static function per(array $labels): string
    {
        $named = array_map(
            static fn(string $label): string => preg_match('~^[a-zA-Z_:][a-zA-Z0-9_:]*$~D', $label) === 1 ? $label : "`{$label}`",
            $labels,
        );

        return $named === [] ? '' : ' per ' . implode(', ', $named);
    }

    /** A number that is read back as the same. */
    public static function number(float $value): string
    {
        return (string) json_encode($value);
    }

    /** A share that is read back as the same number: the point of 0.2 moved by two, 20 %. */
    public static function share(float $value): string
    {
        [$digits, $exponent] = explode('e', strtolower(self::number($value))) + [1 => ''];
        if ($exponent !== '') {
            return $digits . 'e' . ((int) $exponent + 2) . '%';
        }
        [$whole, $part] = explode('.', $digits) + [1 => ''];
        $part = str_pad($part, 2, '0');
        $moved = ltrim($whole . substr($part, 0, 2), '0') ?: '0';
        $rest = rtrim(substr($part, 2), '0');

        return $moved . ($rest === '' ? '' : ".{$rest}") . '%';
    }
}

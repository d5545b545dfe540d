<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\Core\Formula\Printer;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** An alert that moves: when, into which phase, how grave, and which labels it has at least. */
final readonly class ExpectedMove
{
    /** @param array<string, string> $labels */
    public function __construct(public Duration $at, public Phase $to, public ?Severity $severity, public array $labels)
    {
    }

    public function isMetBy(AlertTransition $moved, Instant $from): bool
    {
        return $moved->transition->at->since($from)->ms === $this->at->ms
            && $moved->transition->to === $this->to
            && ($this->severity === null || $moved->transition->severity === $this->severity)
            && array_diff_assoc($this->labels, $moved->labels->labels) === [];
    }

    /** `10m  raised major  broker=north`. */
    public function words(): string
    {
        return self::said($this->at, $this->to, $this->severity, $this->labels);
    }

    public static function wordsOf(AlertTransition $moved, Instant $from): string
    {
        $transition = $moved->transition;

        return self::said($transition->at->since($from), $transition->to, $transition->severity, $moved->labels->labels);
    }

    /** @param array<string, string> $labels */
    private static function said(Duration $at, Phase $to, ?Severity $severity, array $labels): string
    {
        $named = array_map(static fn(string $label, string $value): string => "{$label}={$value}", array_keys($labels), $labels);

        return trim(sprintf('%-8s %-8s %-8s %s', Printer::duration($at->ms), $to->value, $severity->value ?? '', implode(' ', $named)));
    }
}

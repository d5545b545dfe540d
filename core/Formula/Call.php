<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\AcrossSeries;
use Olivine\Core\Formula\Node\Age;
use Olivine\Core\Formula\Node\Baseline;
use Olivine\Core\Formula\Node\Deviation;
use Olivine\Core\Formula\Node\Grouping;
use Olivine\Core\Formula\Node\Missing;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\Now;
use Olivine\Core\Formula\Node\Number;
use Olivine\Core\Formula\Node\Outlier;
use Olivine\Core\Formula\Node\OverTime;
use Olivine\Core\Formula\Node\Percentile;
use Olivine\Core\Formula\Node\PerValue;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Formula\Node\Ranked;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Node\ShareBelow;
use Olivine\Core\Formula\Node\Unary;
use Olivine\Core\Formula\Node\Unit;
use Olivine\Core\Formula\Node\VoiceQuality;

/** A function with its arguments, as the parser found them, turned into the node it stands for. */
final readonly class Call
{
    private const LONGEST_MS = 400 * 86_400_000;

    /** @param list<Node> $arguments */
    public function __construct(
        private Token $name,
        private array $arguments,
        private Place $place,
        private ?Grouping $grouping,
        private ?Place $groupingPlace,
    ) {
    }

    /** @throws FormulaError */
    public function node(): Node
    {
        $function = $this->name->text;

        return match ($function) {
            'now' => $this->take(0, new Now($this->place)),
            'abs', 'ceil', 'floor', 'round', 'sqrt', 'ln', 'log2' => $this->take(
                1,
                fn(): Node => new PerValue($this->place, $function, $this->argument(0), []),
            ),
            'clamp' => $this->take(
                3,
                fn(): Node => new PerValue($this->place, $function, $this->argument(0), [$this->number(1), $this->number(2)]),
            ),
            'age' => $this->take(1, fn(): Node => new Age($this->place, $this->metric(0))),
            'missing' => $this->take(2, fn(): Node => new Missing($this->place, $this->metric(0), $this->duration(1))),
            'forecast' => $this->take(
                3,
                fn(): Node => new OverTime(
                    $this->place,
                    TimeReducer::Forecast,
                    $this->argument(0),
                    $this->duration(2),
                    $this->duration(1) / 1000,
                ),
            ),
            'baseline' => $this->take(
                3,
                fn(): Node => new Baseline(
                    $this->place,
                    $this->argument(0),
                    $this->word(1, BaselineMethod::class),
                    $this->duration(2),
                ),
            ),
            'deviation' => $this->take(
                3,
                fn(): Node => new Deviation(
                    $this->place,
                    $this->argument(0),
                    $this->word(1, Yardstick::class),
                    $this->duration(2),
                ),
            ),
            'voice_quality' => $this->take(
                3,
                fn(): Node => new VoiceQuality($this->place, $this->argument(0), $this->argument(1), $this->argument(2)),
            ),
            'top', 'bottom' => $this->take(
                2,
                fn(): Node => new Ranked($this->place, $function === 'top', $this->whole(0), $this->argument(1), $this->grouping),
                true,
            ),
            'outlier' => $this->take(1, fn(): Node => new Outlier($this->place, $this->argument(0), $this->grouping), true),
            'percentile' => $this->take(
                3,
                fn(): Node => new Percentile(
                    $this->place,
                    $this->between(0, 0, 100),
                    $this->metric(1),
                    $this->duration(2),
                    $this->grouping,
                ),
                true,
            ),
            'share_below' => $this->take(
                3,
                fn(): Node => new ShareBelow(
                    $this->place,
                    $this->number(0),
                    $this->metric(1),
                    $this->duration(2),
                    $this->grouping,
                ),
                true,
            ),
            'quantile' => count($this->arguments) === 3
                ? $this->take(
                    3,
                    fn(): Node => new OverTime(
                        $this->place,
                        TimeReducer::Quantile,
                        $this->argument(1),
                        $this->duration(2),
                        $this->between(0, 0, 1),
                    ),
                )
                : $this->take(
                    2,
                    fn(): Node => new AcrossSeries(
                        $this->place,
                        SetReducer::Quantile,
                        $this->argument(1),
                        $this->grouping,
                        $this->between(0, 0, 1),
                    ),
                    true,
                ),
            default => $this->reducer($function),
        };
    }

    /** @throws FormulaError */
    private function reducer(string $function): Node
    {
        $timed = TimeReducer::tryFrom($function);
        $across = SetReducer::tryFrom($function);
        if ($timed === null && $across === null) {
            throw new FormulaError(
                $this->name->place,
                "There is no function {$function}",
                Nearest::to($function, Functions::names()),
            );
        }
        if ($timed !== null && ($across === null || count($this->arguments) > 1)) {
            if (count($this->arguments) === 1) {
                throw new FormulaError($this->place, "{$function} needs a duration: {$function}(…, 5m)");
            }

            return $this->take(2, fn(): Node => new OverTime($this->place, $timed, $this->argument(0), $this->duration(1)));
        }
        if (count($this->arguments) === 2) {
            throw new FormulaError($this->argument(1)->place(), "{$function} works across series and takes no duration");
        }

        return $this->take(1, fn(): Node => new AcrossSeries($this->place, $across, $this->argument(0), $this->grouping), true);
    }

    /**
     * @param Node|callable(): Node $node
     *
     * @throws FormulaError
     */
    private function take(int $count, Node|callable $node, bool $groups = false): Node
    {
        if (count($this->arguments) !== $count) {
            $usage = implode(' or ', Functions::usages($this->name->text));

            throw new FormulaError(
                $this->place,
                sprintf(
                    '%s takes %s, not %d: %s%s',
                    $this->name->text,
                    $count === 1 ? 'one argument' : ($count === 0 ? 'no argument' : "{$count} arguments"),
                    count($this->arguments),
                    $usage,
                    $this->swallowed($count),
                ),
            );
        }
        if (!$groups && $this->groupingPlace !== null) {
            throw new FormulaError(
                $this->groupingPlace,
                "{$this->name->text} keeps every series; per and dropping go with functions across series, such as sum(…) per host",
            );
        }

        return $node instanceof Node ? $node : $node();
    }

    /** Where an argument is missing and a list of labels stands before its place, the list may have taken it. */
    private function swallowed(int $count): string
    {
        foreach (count($this->arguments) < $count ? $this->arguments : [] as $argument) {
            $grouping =
                $argument instanceof AcrossSeries || $argument instanceof Ranked || $argument instanceof Outlier
                    ? $argument->grouping
                    : null;
            if ($grouping !== null && count($grouping->labels) > 1) {
                return sprintf(
                    '. Here %s are taken for labels; if not all of them are, put brackets: (… %s %s)',
                    implode(', ', $grouping->labels),
                    $grouping->keeps ? 'per' : 'dropping',
                    $grouping->labels[0],
                );
            }
        }

        return '';
    }

    private function argument(int $index): Node
    {
        return $this->arguments[$index];
    }

    /** @throws FormulaError */
    private function metric(int $index): Select
    {
        $node = $this->argument($index);

        return $node instanceof Select
            ? $node
            : throw new FormulaError($node->place(), "{$this->name->text} needs a metric here, with or without where");
    }

    /** @throws FormulaError */
    private function number(int $index): float
    {
        $node = $this->argument($index);

        return match (true) {
            $node instanceof Number => $node->value,
            $node instanceof Unary && $node->operator === '-' && $node->of instanceof Number => -$node->of->value,
            default => throw new FormulaError($node->place(), "{$this->name->text} needs a number here, such as 0.95"),
        };
    }

    /** @throws FormulaError */
    private function between(int $index, int $least, int $most): float
    {
        $number = $this->number($index);
        if ($number < $least || $number > $most) {
            throw new FormulaError(
                $this->argument($index)->place(),
                "{$this->name->text} takes a number from {$least} to {$most} first" .
                    ($most === 1 ? ', such as 0.95' : ', such as 95'),
            );
        }

        return $number;
    }

    /** @throws FormulaError */
    private function whole(int $index): int
    {
        $number = $this->number($index);
        if ($number < 1 || $number > 10_000 || floor($number) !== $number) {
            throw new FormulaError(
                $this->argument($index)->place(),
                "{$this->name->text} takes how many series first, a whole number such as 5",
            );
        }

        return (int) $number;
    }

    /** @throws FormulaError */
    private function duration(int $index): int
    {
        $node = $this->argument($index);
        if (!($node instanceof Number) || $node->unit !== Unit::Seconds || $node->value <= 0) {
            throw new FormulaError($node->place(), "{$this->name->text} needs a duration such as 5m here");
        }
        if ($node->value * 1000 > self::LONGEST_MS) {
            throw new FormulaError($node->place(), 'A duration is at most 400d');
        }

        return max(1, (int) round($node->value * 1000));
    }

    /**
     * @template T of \BackedEnum
     *
     * @param class-string<T> $enum
     *
     * @return T
     *
     * @throws FormulaError
     */
    private function word(int $index, string $enum): \BackedEnum
    {
        $node = $this->argument($index);
        $words = array_map(static fn(\BackedEnum $case): string => (string) $case->value, $enum::cases());
        $word = $node instanceof Select && $node->where === null ? $node->metric : null;

        return ($word === null ? null : $enum::tryFrom($word)) ??
            throw new FormulaError(
                $node->place(),
                "{$this->name->text} takes one of " . implode(', ', $words) . ' here',
                $word === null ? null : Nearest::to($word, $words),
            );
    }
}

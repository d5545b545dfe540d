<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Olivine\App\Delivery\AwayChannels;
use Olivine\App\Delivery\WhoHears;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Settings;
use Olivine\App\Roster\Answer\CoverageFault;
use Olivine\App\Roster\Answer\CoveragePage;
use Olivine\App\Roster\Answer\CoveredPath;
use Olivine\App\Roster\Answer\CoveredStretch;
use Olivine\App\Roster\Repository\RosterRepository;
use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Delivery\Coverage;
use Olivine\Core\Delivery\Covered;
use Olivine\Core\Delivery\Listener;
use Olivine\Core\Delivery\Path;
use Olivine\Core\Delivery\Who;
use Olivine\Core\Roster\Shift;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** Every hour of the next fortnight, path by path: who would hear at once, by the course that alerts take. */
final readonly class CoverageView
{
    private const DAYS = 14;

    public function __construct(
        private WhoHears $who,
        private PersonRepository $people,
        private RosterRepository $rosters,
        private AwayChannels $away,
        private WeakReach $weak,
        private Settings $settings,
        private Clock $clock = new Clock(),
    ) {
    }

    public function page(): CoveragePage
    {
        $began = hrtime(true);
        $from = $this->clock->now();
        $to = $from->plus(Duration::ofDays(self::DAYS));
        $configuration = $this->who->now();
        $coverage = new Coverage($configuration);
        $names = $this->people->names();
        $paths = $faults = $reached = [];
        foreach ($configuration->paths as $path) {
            $covered = $coverage->of($path, $from, $to);
            $stretches = array_map(fn(Covered $one): CoveredStretch => $this->stretch($one, $names), $covered);
            $paths[] = new CoveredPath($path->name, self::ladderWords($path), $stretches);
            array_push($faults, ...$this->gaps($configuration, $path, $covered));
            foreach ($covered as $one) {
                $reached += array_fill_keys([...array_column($one->told, 0), ...array_column($one->later, 0)], true);
            }
        }
        $faults = [...self::joined($faults), ...$this->weak->ofPeople(array_keys($reached)), ...$this->weak->ofRules($configuration), ...$this->channels()];
        $rank = static fn(CoverageFault $one): array => [$one->grade->rank(), $one->from->ms ?? PHP_INT_MAX];
        usort($faults, static fn(CoverageFault $a, CoverageFault $b): int => $rank($a) <=> $rank($b));

        return new CoveragePage($from, $to, $this->words($faults, count($paths)), $paths, $faults, round((hrtime(true) - $began) / 1e6, 1));
    }

    /**
     * How long, within the next days, alerts of each path would reach nobody on the first rungs.
     *
     * @return array<string, float> path → hours
     */
    public function gapHours(int $days): array
    {
        $from = $this->clock->now();
        $configuration = $this->who->now();
        $coverage = new Coverage($configuration);
        $hours = [];
        foreach ($configuration->paths as $path) {
            $gaps = array_filter($coverage->of($path, $from, $from->plus(Duration::ofDays($days))), static fn(Covered $one): bool => $one->isGap());
            $hours[$path->name] = array_sum(array_map(static fn(Covered $one): float => $one->to->since($one->from)->ms / 3_600_000, $gaps));
        }

        return $hours;
    }

    /** @param array<int, string> $names */
    private function stretch(Covered $one, array $names): CoveredStretch
    {
        $name = static fn(int $person): string => $person === Coverage::WHOEVER_OWNS_IT ? 'whoever owns the rule' : $names[$person] ?? 'somebody who is gone';
        $told = [];
        foreach ($one->told as [$person, $way]) {
            $told[$name($person)][] = $way;
        }
        $words = [];
        foreach ($told as $who => $ways) {
            $words[] = "{$who} by " . implode(' and ', $ways);
        }
        foreach ($one->later as [$person, $until]) {
            $words[] = "{$name($person)} from {$this->time($until)} on, unless it is critical";
        }
        if (!$one->answers) {
            $words = ['outside its hours: another path answers'];
        } elseif ($words === []) {
            $words = ['nobody'];
        }

        return new CoveredStretch(
            from: $one->from,
            to: $one->to,
            answers: $one->answers,
            isGap: $one->isGap(),
            people: array_map(strval(...), array_keys($told)),
            words: implode(', ', [...$words, ...$one->empty]),
        );
    }

    /**
     * @param list<Covered> $covered
     *
     * @return list<CoverageFault>
     */
    private function gaps(Configuration $configuration, Path $path, array $covered): array
    {
        $faults = [];
        foreach ($covered as $one) {
            if (!$one->isGap()) {
                continue;
            }
            $isNobody = $one->told === [] && $one->later === [];
            [$roster, $shift] = $this->emptyRoster($configuration, $path, $one);
            $away = $shift->away[0] ?? null;
            $isCovered = $roster !== null && $away !== null;
            $faults[] = new CoverageFault(
                grade: $isNobody ? FaultGrade::Nobody : FaultGrade::FallsThrough,
                words: $isCovered ? "Nobody is on call by the roster {$roster}" : implode(', ', $one->empty),
                remedy: $isCovered ? 'Ask somebody to cover' : 'Put somebody on that rung, or on its roster',
                path: $path->name,
                rosterId: $isCovered ? $this->rosters->named($roster)?->id : null,
                forId: $away,
                from: $one->from,
                to: $one->to,
            );
        }

        return $faults;
    }

    /**
     * The first roster of the ladder that has nobody then.
     *
     * @return array{string|null, Shift|null} its name, and the stretch
     */
    private function emptyRoster(Configuration $configuration, Path $path, Covered $one): array
    {
        foreach ($path->ladder->steps as $step) {
            foreach ($step->who as $who) {
                $shift = $who->listener === Listener::OnCall ? $configuration->rosters->named($who->name)?->at($one->from) : null;
                if ($shift?->isGap() === true) {
                    return [$who->name === '' ? $configuration->rosters->names()[0] ?? null : $who->name, $shift];
                }
            }
        }

        return [null, null];
    }

    /**
     * The same gap of a roster on several paths is one.
     *
     * @param list<CoverageFault> $faults
     *
     * @return list<CoverageFault>
     */
    private static function joined(array $faults): array
    {
        $byKey = [];
        foreach ($faults as $one) {
            $key = "{$one->grade->value} {$one->words} {$one->rosterId} {$one->from?->ms} {$one->to?->ms}";
            $before = $byKey[$key] ?? null;
            $byKey[$key] = $before === null
                ? $one
                : new CoverageFault($one->grade, $one->words, $one->remedy, "{$before->path}, {$one->path}", $one->rosterId, $one->forId, $one->from, $one->to);
        }

        return array_values($byKey);
    }

    /** @return list<CoverageFault> */
    private function channels(): array
    {
        $faults = [];
        foreach ($this->away->now() as $one) {
            $words = "The channel {$one->name} does not take messages: {$one->reason}";
            $faults[] = new CoverageFault(FaultGrade::Weak, $words, 'See Delivery', null, null, null, null, null);
        }

        return $faults;
    }

    /** @param list<CoverageFault> $faults */
    private function words(array $faults, int $paths): string
    {
        $gaps = array_values(array_filter($faults, static fn(CoverageFault $one): bool => $one->grade !== FaultGrade::Weak));
        $of = $paths === 1 ? 'one path' : "{$paths} paths";
        if ($gaps === []) {
            return "Somebody hears at once, at every hour of the next two weeks, on {$of}.";
        }
        $first = $gaps[0];
        $when = $first->from === null ? '' : " from {$this->time($first->from)} on";
        $more = count($gaps) > 1 ? sprintf(' %d more of the kind.', count($gaps) - 1) : '';

        return ucfirst("{$first->words}{$when}.{$more}");
    }

    private function time(Instant $at): string
    {
        return $at->in($this->settings->zone())->format('D j M, H:i');
    }

    private static function ladderWords(Path $path): string
    {
        $rungs = [];
        foreach ($path->ladder->steps as $step) {
            $rungs[] = implode(' and ', array_map(static fn(Who $who): string => $who->words(), $step->who));
        }

        return implode(', then ', $rungs);
    }
}

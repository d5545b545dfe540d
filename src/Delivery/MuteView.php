<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\Matched;
use Olivine\App\Delivery\Answer\MutesPage;
use Olivine\App\Delivery\Answer\ShownMute;
use Olivine\App\Delivery\Entity\IncidentAlert;
use Olivine\App\Delivery\Entity\KeptMute;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\Delivery\Repository\KeptMuteRepository;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\App\Roster\Calendar\BadCalendar;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** What hushes, as its page shows it: until when, and what lies beneath. */
final readonly class MuteView
{
    private const AHEAD_DAYS = 60;
    private const MOST_TITLES = 5;
    private const MOST_COMING = 20;

    public function __construct(
        private KeptMuteRepository $mutes,
        private IncidentAlertRepository $alerts,
        private PersonRepository $people,
        private RaisingRules $rules,
        private Settings $settings,
        private Clock $clock = new Clock(),
    ) {
    }

    public function page(): MutesPage
    {
        $up = $this->alerts->up();
        $shown = array_map(fn(KeptMute $one): ShownMute => $this->shown($one, $up), $this->mutes->notOver($this->clock->now()));
        $rank = static fn(ShownMute $one): array => [!$one->isNow, $one->begins->ms ?? PHP_INT_MAX];
        usort($shown, static fn(ShownMute $a, ShownMute $b): int => $rank($a) <=> $rank($b));

        return new MutesPage($this->words($shown), $this->settings->zone()->getName(), $shown);
    }

    /** @param list<IncidentAlert>|null $up alerts that are up; null: as they are now */
    public function shown(KeptMute $mute, ?array $up = null): ShownMute
    {
        $now = $this->clock->now();
        try {
            $spans = MuteSpans::of($mute, $now, $now->plus(Duration::ofDays(self::AHEAD_DAYS)));
        } catch (BadCalendar) {
            $spans = [];
        }
        [$begins, $ends] = $spans[0] ?? [null, null];
        $isNow = $begins?->isAfter($now) === false;
        $matched = $isNow ? $this->among($mute->matching, $up ?? $this->alerts->up()) : new Matched(0, []);
        $zone = new \DateTimeZone($mute->zone);

        return new ShownMute(
            id: $mute->id(),
            kind: $mute->kind,
            name: $mute->name,
            matching: $mute->matching,
            reason: $mute->reason,
            author: $mute->authorId === null ? '' : $this->people->names()[$mute->authorId] ?? 'somebody who is gone',
            from: $mute->fromAt->in($zone)->format('Y-m-d H:i'),
            to: $mute->toAt->in($zone)->format('Y-m-d H:i'),
            zone: $mute->zone,
            recurs: $mute->recurs,
            begins: $begins,
            ends: $ends,
            isNow: $isNow,
            hides: $matched->alerts,
            titles: $matched->titles,
            comes: array_map(static fn(array $span): int => $span[0]->ms, array_slice($spans, 0, self::MOST_COMING)),
            version: $mute->version,
        );
    }

    /** @throws Problem naming the field */
    public function matched(string $matching): Matched
    {
        MuteKeeping::checkMatching($matching);

        return $this->among($matching, $this->alerts->up());
    }

    /** @param list<IncidentAlert> $up */
    private function among(string $matching, array $up): Matched
    {
        try {
            $filter = Parser::filterOf($matching);
        } catch (FormulaError) {
            return new Matched(0, []);
        }
        $matched = array_values(array_filter($up, static fn(IncidentAlert $one): bool => $filter->accepts($one->about())));
        $title = fn(IncidentAlert $one): string => $this->rules->of($one->ruleId, $one->revisionId)?->name($one->labelSet()) ?? '';

        return new Matched(count($matched), array_map($title, array_slice($matched, 0, self::MOST_TITLES)));
    }

    /** @param list<ShownMute> $shown */
    private function words(array $shown): string
    {
        $active = array_values(array_filter($shown, static fn(ShownMute $one): bool => $one->isNow));
        $next = array_find($shown, static fn(ShownMute $one): bool => !$one->isNow && $one->begins !== null);
        $comes = $next === null ? '' : " Next comes {$next->name}, {$this->time($next->begins)}.";
        if ($active === []) {
            return "Nothing is hushed now.{$comes}";
        }
        $hides = array_sum(array_map(static fn(ShownMute $one): int => $one->hides, $active));
        $what = match ($hides) {
            0 => 'nothing is up beneath',
            1 => 'one alert that is up is hushed',
            default => "{$hides} alerts that are up are hushed",
        };
        $sooner = static fn(?Instant $first, ShownMute $one): ?Instant => $one->ends === null ? $first : ($first?->earlier($one->ends) ?? $one->ends);
        $ends = array_reduce($active, $sooner);
        $many = count($active) === 1 ? "{$active[0]->name} hushes now" : count($active) . ' hush now';

        return "{$many}: {$what}; the first ends {$this->time($ends)}.{$comes}";
    }

    private function time(?Instant $at): string
    {
        return $at === null ? 'never' : $at->in($this->settings->zone())->format('D j M, H:i');
    }
}

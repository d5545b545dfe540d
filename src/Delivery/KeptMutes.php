<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\HushSpan;
use Olivine\App\Delivery\Definition\MuteKind;
use Olivine\App\Delivery\Entity\KeptMute;
use Olivine\App\Delivery\Repository\KeptMuteRepository;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\SetAside;
use Olivine\App\Roster\Calendar\BadCalendar;
use Olivine\Core\Delivery\Mute;
use Olivine\Core\Delivery\Mutes;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** What hushes when, worked out for the days around now; anew only where something was set, changed or ended, and each day. */
final class KeptMutes
{
    private const BACK_DAYS = 35;
    private const AHEAD_DAYS = 60;
    private const MOST_SPANS = 50;

    private ?Mutes $known = null;
    private string $readAs = '';
    /** @var array<int, KeptMute> */
    private array $kept = [];

    public function __construct(
        private readonly KeptMuteRepository $mutes,
        private readonly PersonRepository $people,
        private readonly SetAside $aside,
        private readonly Clock $clock = new Clock(),
    ) {
    }

    public function now(): Mutes
    {
        $at = $this->clock->now();
        $readAs = $this->mutes->mark() . ' ' . intdiv($at->ms, 86_400_000);
        if ($this->known === null || $this->readAs !== $readAs) {
            $this->known = $this->read($at);
            $this->readAs = $readAs;
        }

        return $this->known;
    }

    /** @return list<HushSpan> that touch a time of these days, in the order in which they begin; so many at most */
    public function spans(Instant $from, Instant $to): array
    {
        $spans = [];
        foreach ($this->now()->all as $mute) {
            $kept = $this->kept[$mute->id];
            foreach ($mute->spans as [$begins, $ends]) {
                if ($begins->isBefore($to) && $ends->isAfter($from)) {
                    $spans[] = new HushSpan($mute->id, $kept->name, $kept->kind, $begins, $ends);
                }
            }
        }
        usort($spans, static fn(HushSpan $a, HushSpan $b): int => $a->from->ms <=> $b->from->ms);

        return array_slice($spans, 0, self::MOST_SPANS);
    }

    /** A mute that cannot be read any more hushes nothing: it is set aside, and Watch says so. */
    private function read(Instant $now): Mutes
    {
        $from = $now->minus(Duration::ofDays(self::BACK_DAYS));
        $to = $now->plus(Duration::ofDays(self::AHEAD_DAYS));
        $names = $this->people->names();
        $all = $this->kept = [];
        foreach ($this->mutes->notOver($from) as $kept) {
            try {
                $spans = MuteSpans::of($kept, $from, $to);
                if ($spans !== []) {
                    $this->kept[$kept->id()] = $kept;
                    $all[] = new Mute($kept->id(), self::words($kept, $names), Parser::filterOf($kept->matching), $spans);
                }
            } catch (BadCalendar|FormulaError $error) {
                $this->aside->put('dispatcher', "mute {$kept->name}", $error->getMessage(), $now);
            }
        }

        return new Mutes($all);
    }

    /** @param array<int, string> $names of people */
    private static function words(KeptMute $kept, array $names): string
    {
        $what = $kept->kind === MuteKind::Window ? 'the maintenance' : 'the mute';
        $by = $kept->authorId === null ? '' : ' of ' . ($names[$kept->authorId] ?? 'somebody who is gone');

        return "{$what} {$kept->name}{$by} ({$kept->reason})";
    }
}

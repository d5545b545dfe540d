<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\ShownPath;
use Olivine\App\Delivery\Answer\ShownRung;
use Olivine\App\Delivery\Answer\TriedAlert;
use Olivine\App\Delivery\Answer\TriedStep;
use Olivine\App\Delivery\Definition\TryFields;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Delivery\CourseReplay;
use Olivine\Core\Delivery\Decision;
use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Delivery\Event\AlertRaised;
use Olivine\Core\Delivery\LadderStep;
use Olivine\Core\Delivery\Path;
use Olivine\Core\Delivery\Rung;
use Olivine\Core\Delivery\TrailKind;
use Olivine\Core\Delivery\Who;
use Olivine\Core\Formula\Printer;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** Who answers for what, and what would become of an alert: by the very course that runs live. */
final readonly class PathView
{
    /** So long nobody acts on what is tried. */
    private const TRIED_DAYS = 7;

    public function __construct(
        private WhoHears $who,
        private PersonRepository $people,
        private Settings $settings,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @return list<ShownPath> in order */
    public function all(): array
    {
        $configuration = $this->who->now();
        $now = $this->clock->now();
        $names = $this->people->names();

        return array_map(static fn(Path $path): ShownPath => self::shown($path, $configuration, $now, $names), $configuration->paths);
    }

    /** @throws Problem naming the field that cannot be so */
    public function tried(TryFields $fields): TriedAlert
    {
        $at = WhenWritten::at($fields->at, $this->clock->now(), $this->settings->zone());
        $about = LabelSet::of(['severity' => $fields->severity->value] + $fields->labels);
        $replay = new CourseReplay($this->who->now());
        $replay->happens(new AlertRaised('tried', $about, $fields->severity, 'An alert', "raised as {$fields->severity->value}"), $at);
        $replay->passTo($at->plus(Duration::ofDays(self::TRIED_DAYS)));
        $course = $replay->courses()[0];
        $names = $this->people->names();
        $steps = [];
        foreach ($course->decisions as [$when, $decision]) {
            $steps[] = self::step($when, $decision, $names);
        }

        return new TriedAlert($at, $course->state->path, $course->state->group, array_values(array_filter($steps)));
    }

    /** @param array<int, string> $names */
    private static function step(Instant $at, Decision $decision, array $names): ?TriedStep
    {
        return match (true) {
            $decision instanceof Tell => new TriedStep($at, false, sprintf(
                '%s: %s to %s',
                Rung::words($decision->round),
                $decision->way,
                $names[$decision->person] ?? 'somebody who is gone',
            )),
            $decision instanceof Line => new TriedStep($at, $decision->kind === TrailKind::Failed, $decision->words),
            default => null,
        };
    }

    /** @param array<int, string> $names */
    private static function shown(Path $path, Configuration $configuration, Instant $now, array $names): ShownPath
    {
        $rung = static fn(LadderStep $step): ShownRung => new ShownRung(
            array_map(static fn(Who $who): string => $who->words(), $step->who),
            array_map(static fn(int $person): string => $names[$person] ?? '', $configuration->reached($step->who, $now)),
            $step->after->ms,
        );

        return new ShownPath(
            name: $path->name,
            for: $path->for === null ? '' : Printer::condition($path->for),
            hours: $path->hours?->words() ?? '',
            per: $path->per,
            gatherMs: $path->gather->ms,
            times: $path->ladder->times,
            rungs: array_map($rung, $path->ladder->steps),
        );
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\TriedAlert;
use Olivine\App\Delivery\Answer\TriedStep;
use Olivine\App\Delivery\Definition\TryFields;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\Core\Delivery\Copy;
use Olivine\Core\Delivery\CourseReplay;
use Olivine\Core\Delivery\Decision;
use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Delivery\Event\AlertRaised;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Delivery\Rung;
use Olivine\Core\Delivery\TrailKind;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** What would become of a made-up alert: by the very course that runs live. */
final readonly class AlertTrial
{
    /** So long nobody acts on what is tried. */
    private const TRIED_DAYS = 7;

    public function __construct(
        private WhoHears $who,
        private PlanInService $inService,
        private PlanDrafts $drafts,
        private PersonRepository $people,
        private Settings $settings,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @throws Problem naming the field that cannot be so */
    public function of(TryFields $fields): TriedAlert
    {
        $at = WhenWritten::at($fields->at, $this->clock->now(), $this->settings->zone());
        $about = LabelSet::of(['severity' => $fields->severity->value] + $fields->labels);
        $plan = $fields->draft ? $this->inService->working($this->drafts->plan(), $this->inService->plan()->number) : $this->inService->plan();
        $replay = new CourseReplay($this->who->by($plan));
        $replay->happens(new AlertRaised('tried', $about, $fields->severity, 'An alert', "raised as {$fields->severity->value}"), $at);
        $replay->passTo($at->plus(Duration::ofDays(self::TRIED_DAYS)));
        $course = $replay->courses()[0];
        $names = $this->people->names();
        $steps = [];
        foreach ($course->decisions as [$when, $decision]) {
            $steps[] = self::step($when, $decision, $names);
        }
        $steps = array_values(array_filter($steps));
        usort($steps, static fn(TriedStep $a, TriedStep $b): int => $a->at->ms <=> $b->at->ms);

        return new TriedAlert($at, $course->state->path, $course->state->group, $steps);
    }

    /** @param array<int, string> $names */
    private static function step(Instant $at, Decision $decision, array $names): ?TriedStep
    {
        return match (true) {
            $decision instanceof Tell => new TriedStep($decision->dueAt->later($at), false, self::told($decision, $names)),
            $decision instanceof Line => new TriedStep($at, $decision->kind === TrailKind::Failed, $decision->words),
            default => null,
        };
    }

    /** @param array<int, string> $names */
    private static function told(Tell $decision, array $names): string
    {
        $what = $decision->kind === MessageKind::Raised ? Rung::words($decision->round) : $decision->kind->value;
        $whom = $names[$decision->person] ?? 'somebody who is gone';

        return $decision->person === Copy::NOBODY_IN_PARTICULAR ? "{$what}: {$decision->way}" : "{$what}: {$decision->way} to {$whom}";
    }
}

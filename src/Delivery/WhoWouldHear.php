<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\Heard;
use Olivine\App\Delivery\Answer\HeardPerson;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Settings;
use Olivine\App\Platform\WorkTime;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\Core\Delivery\CourseReplay;
use Olivine\Core\Delivery\Decision;
use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Delivery\Event\AlertEnded;
use Olivine\Core\Delivery\Event\AlertRaised;
use Olivine\Core\Delivery\Event\AlertTurned;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Delivery\ReplayedCourse;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Instant;

/** Who would have been told of what a rule would have raised, by what is set up now, if nobody had acted. */
final readonly class WhoWouldHear
{
    private const NIGHT_FROM = 22;
    private const NIGHT_TO = 6;

    public function __construct(
        private WhoHears $who,
        private PersonRepository $people,
        private Settings $settings,
        private WorkTime $time,
    ) {
    }

    /**
     * @param list<AlertTransition> $happened in the order of time
     *
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    public function of(RuleDefinition $rule, array $happened, Instant $through): Heard
    {
        $replay = new CourseReplay($this->who->now());
        $up = [];
        foreach ($happened as $one) {
            $this->time->goOn();
            $key = $one->labels->key();
            $event = self::event($rule, $one, isset($up[$key]));
            if ($event === null) {
                continue;
            }
            $replay->happens($event, $one->transition->at);
            if ($event instanceof AlertEnded) {
                unset($up[$key]);
            } else {
                $up[$key] = true;
            }
        }
        $replay->passTo($through);
        $courses = $replay->courses();

        return new Heard(
            count($courses),
            $this->people($courses),
            count(array_filter($courses, static fn(ReplayedCourse $one): bool => $one->state->told === [])),
        );
    }

    private static function event(RuleDefinition $rule, AlertTransition $one, bool $isUp): AlertRaised|AlertTurned|AlertEnded|null
    {
        $transition = $one->transition;
        $key = $one->labels->key();
        $severity = $transition->severity;
        $raises = $transition->to === Phase::Raised || ($transition->to === Phase::Blind && $severity !== null);

        return match (true) {
            $raises && $isUp => new AlertTurned($key, $severity, $rule->name, ''),
            $raises => self::raised($rule, $one, $severity ?? Severity::Minor),
            $transition->to === Phase::Calm || $transition->to->isOver() => new AlertEnded($key, $transition->to, ''),
            default => null,
        };
    }

    private static function raised(RuleDefinition $rule, AlertTransition $one, Severity $severity): AlertRaised
    {
        return new AlertRaised($one->labels->key(), AlertEvents::about($rule, $one->labels, $severity), $severity, $rule->name, '');
    }

    /**
     * @param list<ReplayedCourse> $courses
     *
     * @return list<HeardPerson>
     */
    private function people(array $courses): array
    {
        $zone = $this->settings->zone();
        $messages = $atNight = [];
        foreach ($courses as $course) {
            foreach ($course->decisions as [$at, $decision]) {
                if (!self::tellsOfARaise($decision)) {
                    continue;
                }
                $hour = (int) $at->in($zone)->format('G');
                $messages[$decision->person] = ($messages[$decision->person] ?? 0) + 1;
                $isNight = $hour >= self::NIGHT_FROM || $hour < self::NIGHT_TO;
                $atNight[$decision->person] = ($atNight[$decision->person] ?? 0) + ($isNight ? 1 : 0);
            }
        }
        $names = $this->people->names();
        $heard = [];
        foreach ($messages as $person => $count) {
            $heard[] = new HeardPerson($names[$person] ?? '', $count, $atNight[$person] ?? 0);
        }
        usort($heard, static fn(HeardPerson $a, HeardPerson $b): int => [$b->atNight, $b->messages, $a->name] <=> [$a->atNight, $a->messages, $b->name]);

        return $heard;
    }

    /** @phpstan-assert-if-true Tell $decision */
    private static function tellsOfARaise(Decision $decision): bool
    {
        return $decision instanceof Tell && $decision->kind === MessageKind::Raised;
    }
}

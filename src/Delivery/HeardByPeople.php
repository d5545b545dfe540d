<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\Heard;
use Olivine\App\Delivery\Answer\HeardPerson;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Settings;
use Olivine\Core\Delivery\Decision;
use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Delivery\ReplayedCourse;

/** Who would have been told of courses that were replayed, and how often at night. */
final readonly class HeardByPeople
{
    private const NIGHT_FROM = 22;
    private const NIGHT_TO = 6;

    public function __construct(private PersonRepository $people, private Settings $settings)
    {
    }

    /** @param list<ReplayedCourse> $courses */
    public function of(array $courses): Heard
    {
        return new Heard(
            count($courses),
            $this->people($courses),
            count(array_filter($courses, static fn(ReplayedCourse $one): bool => $one->state->told === [])),
        );
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
                $hour = (int) $decision->dueAt->later($at)->in($zone)->format('G');
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

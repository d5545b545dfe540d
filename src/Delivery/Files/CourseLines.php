<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

use Olivine\Core\Delivery\CourseReplay;
use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Delivery\Rung;

/** The courses of incidents as JSON, a line each thing that happens: `at, incident, what, rung, person, channel, because`. */
final readonly class CourseLines
{
    private const JSON = JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE;

    /** @return list<string> in the order of time */
    public static function of(CourseReplay $replay, OfflinePlan $plan): array
    {
        $lines = [];
        $nobody = ['rung' => null, 'person' => null, 'channel' => null];
        foreach ($replay->courses() as $place => $course) {
            foreach ($course->decisions as [$at, $decision]) {
                $line = match (true) {
                    $decision instanceof Tell => self::told($decision, $plan),
                    $decision instanceof Line => ['what' => $decision->kind->value] + $nobody + ['because' => $decision->words],
                    default => null,
                };
                if ($line !== null) {
                    $when = $decision instanceof Tell ? $decision->dueAt->later($at) : $at;
                    $lines[] = [$when->ms, json_encode(['at' => $when->ms / 1_000, 'incident' => $place + 1] + $line, self::JSON)];
                }
            }
        }
        usort($lines, static fn(array $a, array $b): int => $a[0] <=> $b[0]);

        return array_column($lines, 1);
    }

    /** @return array<string, int|string|null> */
    private static function told(Tell $tell, OfflinePlan $plan): array
    {
        $isRung = $tell->kind === MessageKind::Raised;

        return [
            'what' => 'tell',
            'rung' => $isRung ? Rung::numberOf($tell->round) : null,
            'person' => $plan->address($tell->person),
            'channel' => $tell->way,
            'because' => $isRung ? Rung::words($tell->round) : $tell->kind->value,
        ];
    }
}

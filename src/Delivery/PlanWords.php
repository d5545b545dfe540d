<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Definition\CopyDefinition;
use Olivine\App\Delivery\Definition\LadderDefinition;
use Olivine\App\Delivery\Definition\NamedDefinition;
use Olivine\App\Delivery\Definition\PathDefinition;
use Olivine\App\Delivery\Definition\TeamDefinition;

/** A part of a plan, field by field, as the page says it. */
final readonly class PlanWords
{
    /** @return array<string, string> what is set → in words; what is not set is left out */
    public static function of(NamedDefinition $part): array
    {
        $words = match (true) {
            $part instanceof PathDefinition => [
                'which alerts' => $part->for,
                'hours' => PlanText::hours($part->hours),
                'one incident per' => implode(', ', $part->per),
                'gathers' => $part->gatherUntil === [] ? PlanText::duration($part->gatherSeconds) : 'until ' . implode(' or ', $part->gatherUntil),
                'up the ladder' => $part->ladder,
                'comes up again within' => $part->reopensSeconds === 0 ? '' : PlanText::duration($part->reopensSeconds),
            ],
            $part instanceof LadderDefinition => [
                ...self::rungs($part),
                'times' => $part->times === 1 ? '' : (string) $part->times,
                'until' => $part->until->value,
            ],
            $part instanceof CopyDefinition => [
                'which alerts' => $part->for,
                'hours' => PlanText::hours($part->hours),
                'to' => PlanText::receivers($part->who, $part->by),
                'tells' => implode(', ', $part->tell),
                'at' => implode(' and ', $part->at),
            ],
            $part instanceof TeamDefinition => ['people' => implode(', ', $part->people)],
            default => throw new \LogicException('No words for ' . $part::class),
        };

        return array_filter($words, static fn(string $one): bool => $one !== '');
    }

    /** @return array<string, string> */
    private static function rungs(LadderDefinition $ladder): array
    {
        $last = count($ladder->rungs) - 1;
        $words = [];
        foreach ($ladder->rungs as $i => $rung) {
            $words['rung ' . ($i + 1)] = PlanText::rung($rung, $i === $last);
        }

        return $words;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Time\Instant;

/** The members of a group, each judged by itself; the group is past where enough of them are, as grave as the gravest. */
final readonly class LooksAtGroup implements Looks
{
    private const MOST_NAMED = 12;

    /** @param non-empty-array<string, LooksAtOne> $members by the words that tell one from the others */
    public function __construct(private Together $together, private array $members)
    {
    }

    public function sees(int $i): bool
    {
        return array_any($this->members, static fn(LooksAtOne $one): bool => $one->sees($i));
    }

    public function judge(int $i, Memory $memory, Instant $at): Verdict
    {
        $past = [];
        $worst = null;
        $there = $unknown = $between = 0;
        $mildest = null;
        foreach ($this->members as $name => $member) {
            $verdict = $member->judge($i, Memory::none(), $at);
            $there += $member->sees($i) ? 1 : 0;
            match ($verdict->standing) {
                Standing::Past => ($past[] = (string) $name),
                Standing::Unknown => ++$unknown,
                Standing::Between => ++$between,
                Standing::Back => null,
            };
            if ($verdict->isPast() && $verdict->severity?->isWorseThan($worst) === true) {
                $worst = $verdict->severity;
            }
            $mildest ??= $verdict->severity;
        }
        $needed = $this->together->needed(max(1, $there));
        $count = (float) count($past);
        $numbers = ['past' => $count, 'of' => (float) count($this->members)];

        return match (true) {
            $worst !== null && count($past) >= $needed => Verdict::past($count, $worst, $numbers, who: self::named($past)),
            $unknown === count($this->members) || count($past) + $unknown >= $needed => Verdict::unknown(''),
            $mildest !== null && count($past) + $between >= $needed => Verdict::between($count, $mildest, $numbers),
            default => Verdict::back($count, $numbers),
        };
    }

    public function calmUntil(int $i): int
    {
        // As long as every one is calm, so is the group.
        return min(array_map(static fn(LooksAtOne $one): int => $one->calmUntil($i), $this->members));
    }

    public function pastUntil(int $i, Severity $severity): int
    {
        return $i;
    }

    /** @param list<string> $names */
    private static function named(array $names): string
    {
        sort($names, SORT_NATURAL);
        $more = count($names) - self::MOST_NAMED;

        return implode(', ', array_slice($names, 0, self::MOST_NAMED)) . ($more > 0 ? " and {$more} more" : '');
    }
}

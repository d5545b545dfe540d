<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\Core\Check\Verdict;

/**
 * Tells our own outage from theirs. Some checks are of addresses that are always up: while a place reaches none of them, whatever
 * else it does not reach says nothing of that.
 *
 * A check that was not well waits until the references of its place, which are asked at once, have answered to a question that began
 * after it ended. Where all of them are down its verdict is held: unknown, with what it would have been.
 */
final class References
{
    private const LONGEST_WAIT_SECONDS = 20.0;

    /** @var array<int, string> reference → its name */
    private array $names = [];
    /** @var array<int, CheckRun> reference → how it was answered last */
    private array $last = [];
    /** @var array<int, CheckRun> that wait for them */
    private array $waiting = [];

    /** @param array<int, string> $names all there are at this place from now on, by what they are called */
    public function are(array $names): void
    {
        $this->names = $names;
        $this->last = array_intersect_key($this->last, $names);
    }

    /**
     * Those that are to be asked now, since something waits for them.
     *
     * @return list<int>
     */
    public function wanted(): array
    {
        $after = min([INF, ...array_map(static fn(CheckRun $run): float => $run->endedAt, $this->waiting)]);

        return $after === INF ? [] : array_values(array_filter(array_keys($this->names), fn(int $id): bool => !$this->isAnswered($id, $after)));
    }

    public function isAnyWaiting(): bool
    {
        return $this->waiting !== [];
    }

    /**
     * @param list<CheckRun> $ended
     *
     * @return list<CheckRun> those of which it is known what they say
     */
    public function told(array $ended): array
    {
        $known = [];
        foreach ($ended as $run) {
            $id = $run->target->id();
            if (isset($this->names[$id])) {
                $this->last[$id] = $run;
                $known[] = $run;
            } elseif ($this->names === [] || !self::isBad($run)) {
                $known[] = $run;
            } else {
                $run->hasWaited = true;
                $this->waiting[] = $run;
            }
        }
        $now = microtime(true);
        foreach ($this->waiting as $i => $run) {
            $areAnswered = array_all(array_keys($this->names), fn(int $id): bool => $this->isAnswered($id, $run->endedAt));
            if ($areAnswered || $now - $run->endedAt > self::LONGEST_WAIT_SECONDS) {
                $run->held = $areAnswered && $this->areAllDown() ? 'no reference answers here (' . implode(', ', $this->names) . ')' : null;
                $known[] = $run;
                unset($this->waiting[$i]);
            }
        }

        return $known;
    }

    public function abandon(): void
    {
        $this->waiting = $this->last = [];
    }

    private static function isBad(CheckRun $run): bool
    {
        return in_array(self::said($run), [Verdict::Down, Verdict::Partly], true);
    }

    /** One that cannot be judged says nothing here; whoever takes it finds out, and puts just that one aside. */
    private static function said(CheckRun $run): Verdict
    {
        try {
            return $run->judged()->verdict;
        } catch (\Throwable) {
            return Verdict::Unknown;
        }
    }

    private function isAnswered(int $id, float $after): bool
    {
        return ($this->last[$id]->startedAt ?? 0.0) >= $after;
    }

    private function areAllDown(): bool
    {
        return $this->last !== [] && array_all($this->last, static fn(CheckRun $run): bool => self::said($run) === Verdict::Down);
    }
}

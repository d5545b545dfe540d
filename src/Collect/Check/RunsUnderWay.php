<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\ScrapeRefused;
use Olivine\App\Collect\TransportFault;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Verdict;
use React\EventLoop\StreamSelectLoop;
use React\EventLoop\TimerInterface;

/** Runs that go on side by side in one loop, each until it ends, or the patience with it does. */
final class RunsUnderWay
{
    public readonly StreamSelectLoop $loop;
    /** @var \SplObjectStorage<SocketRun, array{TimerInterface, \Closure(): void}> each with what ends its patience, and what lets go of it */
    private \SplObjectStorage $running;
    /** @var list<SocketRun> */
    private array $ended = [];

    public function __construct(private readonly int $mostAtOnce)
    {
        $this->loop = new StreamSelectLoop();
        $this->running = new \SplObjectStorage();
    }

    public function room(): int
    {
        return max(0, $this->mostAtOnce - count($this->running));
    }

    public function inFlight(): int
    {
        return count($this->running) + count($this->ended);
    }

    /** @return list<SocketRun> those that ended, after this long at most */
    public function advance(float $seconds): array
    {
        if ($this->ended === [] && count($this->running) > 0) {
            $timer = $this->loop->addTimer(max(0.001, $seconds), $this->loop->stop(...));
            try {
                $this->loop->run();
            } catch (\Throwable $error) {
                $this->failAll($error);
            } finally {
                $this->loop->cancelTimer($timer);
            }
        }
        $ended = $this->ended;
        $this->ended = [];

        return $ended;
    }

    public function abandon(): void
    {
        foreach (iterator_to_array($this->running, false) as $run) {
            $this->letGo($run);
        }
        $this->ended = [];
    }

    /**
     * @param callable(): void $giveUp
     * @param \Closure(): void $letGo
     */
    public function begin(SocketRun $run, int $patienceMs, callable $giveUp, \Closure $letGo): void
    {
        $this->running[$run] = [$this->loop->addTimer($patienceMs / 1000, $giveUp), $letGo];
    }

    public function isGone(SocketRun $run): bool
    {
        return !$this->running->contains($run);
    }

    public function end(SocketRun $run): void
    {
        $this->letGo($run);
        $this->ended[] = $run;
        $this->loop->stop();
    }

    /**
     * Whatever keeps it from beginning is our own fault.
     *
     * @param callable(string): void $failed
     * @param callable(): mixed      $work
     */
    public static function tried(SocketTimes $times, callable $failed, callable $work): void
    {
        try {
            $work();
        } catch (\Throwable $error) {
            $times->isOurs = true;
            $failed(self::reason($error));
        }
    }

    public static function late(SocketTimes $times, float $seconds): string
    {
        return sprintf($times->ip === '' ? 'The name of the host was not found within %s s' : 'No answer within %s s', $seconds);
    }

    public static function reason(\Throwable $error): string
    {
        return $error instanceof ScrapeRefused ? $error->getMessage() : TransportFault::words($error->getMessage());
    }

    private function letGo(SocketRun $run): void
    {
        [$timer, $letGo] = $this->running[$run];
        $this->loop->cancelTimer($timer);
        $this->running->detach($run);
        $letGo();
    }

    /** Nobody knows whose doing that was: all of them are asked again at their next time. */
    private function failAll(\Throwable $error): void
    {
        foreach (iterator_to_array($this->running, false) as $run) {
            $run->ends(new Judgement(Verdict::Unknown, self::reason($error), []), '');
            $this->end($run);
        }
    }
}

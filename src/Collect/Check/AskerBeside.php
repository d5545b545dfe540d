<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Reach;

/**
 * Asks by programs of their own, a few at once, since what they ask with knows no other way than to wait. Who finds no room stands in
 * line here: databases that hang keep no other kind of check from being asked.
 */
abstract class AskerBeside implements Asker
{
    protected readonly RunsUnderWay $runs;
    protected readonly ReachedNames $names;
    /** @var list<SocketRun> */
    private array $waiting = [];

    public function __construct(Reach $reach, private readonly CheckAsks $asks, protected readonly Logins $logins)
    {
        $this->runs = new RunsUnderWay($this->mostAtOnce());
        $this->names = new ReachedNames($this->runs->loop, $reach);
    }

    public function made(Target $target, ?int $dueMs, int $place): SocketRun
    {
        return new SocketRun($target, $dueMs, $place, $this->asks->of($target));
    }

    public function room(): int
    {
        return PHP_INT_MAX;
    }

    public function inFlight(): int
    {
        return $this->runs->inFlight() + count($this->waiting);
    }

    public function start(CheckRun $run): void
    {
        if (!$run instanceof SocketRun) {
            throw new \LogicException('This is asked otherwise');
        }
        if ($this->runs->room() === 0) {
            $this->waiting[] = $run;
        } else {
            $this->begin($run);
        }
    }

    public function advance(float $seconds): array
    {
        $failed = [];
        while ($this->waiting !== [] && $this->runs->room() > 0) {
            $run = array_shift($this->waiting);
            try {
                $this->begin($run);
            } catch (\Throwable $error) {
                $failed[] = FailedRun::of($run, $error);
            }
        }

        return [...$failed, ...$this->runs->advance($failed === [] ? $seconds : 0.0)];
    }

    public function abandon(): void
    {
        $this->runs->abandon();
        $this->waiting = [];
    }

    abstract protected function mostAtOnce(): int;

    /** @throws \Throwable where what is asked cannot be so any more */
    abstract protected function begin(SocketRun $run): void;

    /**
     * @param string $program under server/
     *
     * @return list<string>
     */
    final public static function command(string $program): array
    {
        return [PHP_BINARY, '-d', 'memory_limit=64M', '-d', 'display_errors=stderr', dirname(__DIR__, 3) . "/server/{$program}"];
    }
}

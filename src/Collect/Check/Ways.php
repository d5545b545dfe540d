<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Answer\CheckStep;
use Olivine\Core\Check\Phases;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Check\Way;
use React\EventLoop\StreamSelectLoop;

/**
 * Looks for the way to what is down, hop by hop, beside the asking: a verdict does not wait for it. The next time that it is found down it
 * brings the way along, as evidence. Of each check once in five minutes, a few at once.
 */
final class Ways
{
    private const PROGRAM = ['/usr/sbin/traceroute', '/usr/bin/traceroute'];
    private const OPTIONS = ['-n', '-q', '3', '-w', '1', '-m', '20', '-N', '20'];
    private const MOST_AT_ONCE = 4;
    private const AGAIN_SECONDS = 300.0;
    private const PATIENCE_SECONDS = 25.0;

    private readonly StreamSelectLoop $loop;
    /** @var array<string, array{ProgramBeside, float}> check and place → who looks, and since when */
    private array $looking = [];
    /** @var array<string, CheckStep> check and place → what was found, until it is brought along */
    private array $found = [];
    /** @var array<string, float> check and place → when its way was looked for last */
    private array $last = [];

    public function __construct()
    {
        $this->loop = new StreamSelectLoop();
    }

    public function follow(CheckRun $run): void
    {
        if ($run->target->id === null) {
            // A trial is over by the time that a way is found.
            return;
        }
        $key = "{$run->target->id} {$run->place}";
        if ($run->judged()->verdict !== Verdict::Down) {
            unset($this->found[$key]);

            return;
        }
        $run->way = $this->found[$key] ?? null;
        unset($this->found[$key]);
        $last = array_slice($run->steps(), -1)[0] ?? null;
        // Whoever answered that it cannot is there.
        $ip = $last === null || $last->status !== null ? '' : $last->ip;
        $isSoon = ($this->last[$key] ?? 0.0) > microtime(true) - self::AGAIN_SECONDS;
        if (filter_var($ip, FILTER_VALIDATE_IP) !== false && !$isSoon && count($this->looking) < self::MOST_AT_ONCE) {
            $this->look($key, $ip);
        }
    }

    /** Moves on whatever is looked for, without waiting. */
    public function advance(): void
    {
        if ($this->looking === []) {
            return;
        }
        $this->loop->futureTick($this->loop->stop(...));
        $this->loop->run();
        foreach ($this->looking as $key => [$program, $since]) {
            if (microtime(true) - $since > self::PATIENCE_SECONDS) {
                $program->end();
                unset($this->looking[$key]);
            }
        }
    }

    public function abandon(): void
    {
        array_map(static fn(array $one) => $one[0]->end(), $this->looking);
        $this->looking = $this->found = $this->last = [];
    }

    private function look(string $key, string $ip): void
    {
        $this->last[$key] = microtime(true);
        $this->forgetOld();
        $program = array_find(self::PROGRAM, static fn(string $path): bool => is_executable($path));
        if ($program === null) {
            $this->found[$key] = self::step($ip, '', 'There is no traceroute on this machine; whoever keeps it can install traceroute');

            return;
        }
        $beside = new ProgramBeside($this->loop);
        $this->looking[$key] = [$beside, microtime(true)];
        $beside->says([$program, ...self::OPTIONS, $ip])->then(
            function (array $said) use ($key, $ip): void {
                unset($this->looking[$key]);
                $words = Way::of($said[0])->words();
                $this->found[$key] = self::step($ip, $words, $words === '' ? 'The way was not found: ' . mb_substr(trim($said[1]), 0, 200) : '');
            },
            function () use ($key): void {
                unset($this->looking[$key]);
            },
        );
    }

    private static function step(string $ip, string $words, string $fault): CheckStep
    {
        return new CheckStep(CheckRun::WAY, "the way to {$ip}, hop by hop, a little later", $ip, [], new Phases(), null, $words, 0, $fault);
    }

    private function forgetOld(): void
    {
        $oldest = microtime(true) - self::AGAIN_SECONDS;
        $this->last = array_filter($this->last, static fn(float $at): bool => $at > $oldest);
    }
}

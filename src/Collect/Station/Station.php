<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Station;

use Olivine\App\Collect\Check\CheckAskers;
use Olivine\App\Collect\Check\CheckRun;
use Olivine\App\Collect\Check\CheckSecrets;
use Olivine\App\Collect\Check\FailedRun;
use Olivine\App\Collect\Check\OpenSecrets;
use Olivine\App\Collect\Check\References;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Schedule;
use Olivine\App\Collect\SourceKind;
use Olivine\Core\Formula\Spread;
use Olivine\Core\Time\Instant;

/**
 * Asks the checks of one place, each in its rhythm, and brings the centre what they come to. While the centre is away it goes on by the
 * orders that it has, also after it was started anew, and brings all of it later, with the times at which it was.
 */
final class Station
{
    private const LOOK_SECONDS = 0.05;
    private const CYCLE_MS = 1_000;
    private const PAUSE_MS = [1_000, 2_000, 5_000, 10_000];
    private const LATE_KEPT = 2_000;
    private const FIGURES_SECONDS = 60.0;
    private const FIRST_FIGURES_SECONDS = 15.0;
    /** As a place it is known to the centre alone. */
    private const HERE = 0;

    private readonly Schedule $schedule;
    /** @var array<int, Target> */
    private array $checks = [];
    /** @var array<int, true> */
    private array $busy = [];
    private string $revision = '';
    private int $cycleAtMs = 0;
    private int $faults = 0;
    private string $lastFault = '';
    /** @var list<int> by how much each of the last ones was late, ms */
    private array $late = [];
    private int $asked = 0;
    private float $figuresFrom;
    private float $worked = 0.0;
    /** @var array<string, int|float> */
    private array $figures = [];

    /** @param \Closure(string): void $say what whoever looks at it reads */
    public function __construct(
        private readonly CheckAskers $askers,
        private readonly References $references,
        private readonly CheckSecrets $secrets,
        private readonly Backlog $backlog,
        private readonly Centre $centre,
        private readonly string $ordersFile,
        private readonly \Closure $say,
    ) {
        $this->schedule = new Schedule();
        $this->figuresFrom = microtime(true);
        $kept = json_decode((string) @file_get_contents($ordersFile), true);
        if (is_array($kept) && is_array($kept['checks'] ?? null) && is_string($kept['revision'] ?? null)) {
            $this->follow($kept['checks'], $kept['revision']);
        }
    }

    /** One round of all that it does, of at most some hundredths of a second. */
    public function round(): void
    {
        $now = self::now();
        $this->hear($now);
        $this->schedule->now(array_filter($this->references->wanted(), fn(int $id): bool => !isset($this->busy[$id])), $now);
        foreach ($this->schedule->due($now, $this->askers->room()) as $id => $dueMs) {
            if (!isset($this->busy[$id])) {
                $this->busy[$id] = true;
                $this->late = array_slice([...$this->late, self::now() - $dueMs], -self::LATE_KEPT);
                ++$this->asked;
                $this->askers->begin($this->checks[$id], $dueMs, self::HERE);
            }
        }
        $began = self::cpu();
        $isBusy = $this->askers->inFlight() > 0;
        $ended = $this->askers->advance(self::LOOK_SECONDS);
        foreach ($ended as $run) {
            unset($this->busy[$run->target->id()]);
        }
        $this->keep($this->references->told($ended));
        $this->worked += self::cpu() - $began;
        if (!$isBusy) {
            usleep((int) (self::LOOK_SECONDS * 1e6));
        }
    }

    /** @param list<CheckRun> $runs */
    private function keep(array $runs): void
    {
        $number = $this->backlog->nextNumber();
        $results = [];
        foreach ($runs as $run) {
            try {
                $results[] = Result::of($number, $run);
            } catch (\Throwable $error) {
                $why = "What was answered cannot be judged: {$error->getMessage()}";
                ($this->say)("{$run->target->name}: {$why}");
                $results[] = Result::of($number, new FailedRun($run->target, null, self::HERE, $why));
            }
            ++$number;
        }
        if ($results !== []) {
            $this->backlog->put($results);
        }
    }

    private function hear(int $now): void
    {
        try {
            $answer = $this->centre->answer();
        } catch (StationFault $fault) {
            $this->cycleAtMs = $now + self::PAUSE_MS[min($this->faults++, count(self::PAUSE_MS) - 1)];
            if ($fault->getMessage() !== $this->lastFault) {
                ($this->say)("The centre is away, what is seen is kept: {$fault->getMessage()}");
                $this->lastFault = $fault->getMessage();
            }

            return;
        }
        if ($answer !== null) {
            if ($this->lastFault !== '') {
                ($this->say)("The centre is there again; {$this->backlog->waiting()} results wait for it");
            }
            [$this->faults, $this->lastFault] = [0, ''];
            $this->take($answer, $now);
        }
        if (!$this->centre->isBusy() && $now >= $this->cycleAtMs) {
            $this->centre->ask([
                'now' => self::now(),
                'revision' => $this->revision,
                'results' => array_map(static fn(string $line): mixed => json_decode($line, true), $this->backlog->next(Cycles::MOST_RESULTS)),
                'figures' => $this->figures(),
            ]);
            $this->cycleAtMs = $now + self::CYCLE_MS;
        }
    }

    /** @param array<mixed> $answer */
    private function take(array $answer, int $now): void
    {
        if (is_int($answer['taken'] ?? null)) {
            $this->backlog->isTakenThrough($answer['taken']);
        }
        if (is_array($answer['checks'] ?? null) && is_string($answer['revision'] ?? null)) {
            $this->follow($answer['checks'], $answer['revision']);
            file_put_contents("{$this->ordersFile}.part", json_encode(['revision' => $answer['revision'], 'checks' => $answer['checks']], JSON_THROW_ON_ERROR));
            chmod("{$this->ordersFile}.part", 0o600);
            rename("{$this->ordersFile}.part", $this->ordersFile);
        }
        $wishes = is_array($answer['wishes'] ?? null) ? array_filter($answer['wishes'], is_int(...)) : [];
        $this->schedule->now($wishes, $now);
        if ($this->backlog->waiting() >= Cycles::MOST_RESULTS) {
            $this->cycleAtMs = 0;
        }
    }

    /** @param array<mixed> $orders */
    private function follow(array $orders, string $revision): void
    {
        $this->checks = $places = $references = [];
        foreach ($orders as $order) {
            $check = is_array($order) ? $this->check($order) : null;
            if ($check === null) {
                continue;
            }
            $this->checks[$check->id()] = $check;
            $places[$check->id()] = [$check->name, $check->intervalSeconds * 1000];
            if ($check->isReference) {
                $references[$check->id()] = $check->name;
            }
        }
        $this->schedule->keep($places, self::now());
        $this->references->are($references);
        if ($revision !== $this->revision) {
            ($this->say)('Asks ' . count($this->checks) . " checks by the orders {$revision}");
        }
        $this->revision = $revision;
    }

    /** @param array<mixed> $order */
    private function check(array $order): ?Target
    {
        $kind = is_string($order['kind'] ?? null) ? SourceKind::tryFrom($order['kind']) : null;
        if ($kind === null || !$kind->isCheck() || !is_int($order['id'] ?? null) || !is_string($order['name'] ?? null) || !is_array($order['asks'] ?? null)) {
            return null;
        }
        $check = new Target($order['name'], '', Instant::ofMs(self::now()));
        $check->id = $order['id'];
        $check->kind = $kind;
        $check->intervalSeconds = is_int($order['intervalSeconds'] ?? null) ? max(1, $order['intervalSeconds']) : 60;
        $check->slowMs = is_int($order['slowMs'] ?? null) ? $order['slowMs'] : null;
        $check->isReference = ($order['isReference'] ?? false) === true;
        /** @var array<string, mixed> $asks */
        $asks = $order['asks'];
        $check->asks = $asks;
        $values = array_filter(is_array($order['secrets'] ?? null) ? $order['secrets'] : [], is_string(...));
        $origins = array_filter(is_array($order['origins'] ?? null) ? $order['origins'] : [], is_string(...));
        /** @var array<string, string> $values */
        $this->secrets->seal($check, new OpenSecrets($values, array_values($origins)));

        return $check;
    }

    /** @return array<string, int|float> what it says of itself: how much it asks, how busy that keeps it, how much it could bear */
    private function figures(): array
    {
        $seconds = microtime(true) - $this->figuresFrom;
        if ($seconds >= self::FIGURES_SECONDS || ($this->figures === [] && $seconds >= self::FIRST_FIGURES_SECONDS)) {
            $share = min(1.0, $this->worked / $seconds);
            $aMinute = 60 * $this->asked / $seconds;
            $this->figures = ['askedAMinute' => round($aMinute, 1), 'busyShare' => round($share, 4)];
            if ($share > 0.001) {
                $this->figures['room'] = (int) round($aMinute * 0.6 / $share);
            }
            if ($seconds >= self::FIGURES_SECONDS) {
                [$this->figuresFrom, $this->worked, $this->asked] = [microtime(true), 0.0, 0];
            }
        }
        $late = $this->late === [] ? 0.0 : Spread::quantile(0.99, array_map(floatval(...), $this->late));

        return ['waiting' => $this->backlog->waiting(), 'lost' => $this->backlog->lost(), 'lateMs' => (int) $late] + $this->figures;
    }

    private static function cpu(): float
    {
        /** @var array<string, int> $used */
        $used = getrusage() ?: [];
        $seconds = ($used['ru_utime.tv_sec'] ?? 0) + ($used['ru_stime.tv_sec'] ?? 0);

        return $seconds + (($used['ru_utime.tv_usec'] ?? 0) + ($used['ru_stime.tv_usec'] ?? 0)) / 1e6;
    }

    private static function now(): int
    {
        return (int) (microtime(true) * 1000);
    }
}

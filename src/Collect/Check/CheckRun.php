<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Answer\CheckStep;
use Olivine\App\Collect\Asking;
use Olivine\App\Collect\Entity\Target;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Verdict;

/** One time of asking a check from one place. */
abstract class CheckRun extends Asking
{
    /** The name of the step that tells the way to what is down. */
    public const WAY = 'the way there';
    public ?CheckStep $way = null;
    /** Why its verdict is held: what was asked from could reach nothing else either. */
    public ?string $held = null;
    public bool $hasWaited = false;
    /** By which it stands among what stations brought; null where it was asked here. */
    public ?int $arrival = null;

    public function __construct(Target $target, ?int $dueMs, public readonly int $place, ?float $startedAt = null)
    {
        parent::__construct($target, $dueMs, $startedAt);
    }

    /** Whether it is told some while after it ended: by a station, or since it had to wait for what else answers. */
    public function comesLater(): bool
    {
        return $this->arrival !== null || $this->hasWaited;
    }

    /** What its answers come to. */
    abstract public function judged(): Judgement;

    /** What it comes to, all told: held where we are the ones who are cut off. */
    public function verdict(): Judgement
    {
        $judgement = $this->judged();

        return $this->held === null
            ? $judgement
            : new Judgement(Verdict::Unknown, "Held, since {$this->held}; from here it is {$judgement->verdict->word()}: {$judgement->words}", []);
    }

    /** @return list<CheckStep> */
    abstract public function steps(): array;

    /** @return list<CheckStep> with the way there, where it was looked for */
    public function stepsAndWay(): array
    {
        return $this->way === null ? $this->steps() : [...$this->steps(), $this->way];
    }

    public function bringsAWay(): bool
    {
        return array_any($this->stepsAndWay(), static fn(CheckStep $step): bool => $step->name === self::WAY);
    }

    /** The beginning of the last answer, as text; "" where there was none. */
    abstract public function lastAnswer(): string;
}

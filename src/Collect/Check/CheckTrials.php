<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Answer\CheckTrial;
use Olivine\App\Collect\Answer\FoundNumber;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Store\StoreCost;
use Olivine\Core\Check\CheckReading;

/** Asks a check once, here, and keeps nothing: what it came to, step by step, and what it would cost. */
final readonly class CheckTrials
{
    private const DAY_SECONDS = 86_400;
    /** Nobody waits longer before a page. */
    private const MOST_SECONDS = 60.0;

    public function __construct(private CheckSource $source, private StoreCost $cost)
    {
    }

    public function of(Target $check): CheckTrial
    {
        $run = $this->source->once($check, self::MOST_SECONDS);
        $judgement = $run->judged();
        $steps = $run->steps();
        $timesADay = intdiv(self::DAY_SECONDS, $check->intervalSeconds) * count($check->places);
        $readingsADay = $timesADay * count($judgement->readings);

        return new CheckTrial(
            verdict: $judgement->verdict->value,
            words: $judgement->words,
            seconds: $run->seconds(),
            steps: $steps,
            text: $run->lastAnswer(),
            readings: array_map(
                static fn(CheckReading $one): FoundNumber => new FoundNumber($one->metric, $one->labelSet(), $one->value, $one->unit),
                $judgement->readings,
            ),
            readingsADay: $readingsADay,
            bytesADay: (int) ($readingsADay * $this->cost->bytesPerReading()),
            requestsADay: $timesADay * max(1, count($steps)),
            trafficADay: $timesADay * array_sum(array_column($steps, 'bytes')),
        );
    }
}

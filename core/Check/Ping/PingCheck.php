<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Ping;

use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Phases;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Formula\Voice;

/**
 * Whether a host echoes: how many are lost, how long they take, how much that varies, and how a voice call would sound over that
 * way (ITU-T G.107). Down: none comes back. Runs partly: more are lost than may be.
 */
final readonly class PingCheck
{
    /** @param float $mostLoss of the echoes, 0 to 1 */
    public function __construct(
        public string $host,
        public int $count,
        public float $gapSeconds,
        public float $mostLoss,
        public int $patienceMs,
        public ?int $slowMs = null,
    ) {
    }

    public function judge(PingExchange $exchange): Judgement
    {
        $loss = $exchange->loss();
        [$latency, $jitter] = [$exchange->latency(), $exchange->jitter()];
        $verdict = match (true) {
            $exchange->isOurs => Verdict::Unknown,
            $latency === null => Verdict::Down,
            $loss > $this->mostLoss => Verdict::Partly,
            default => Verdict::Runs,
        };
        $isSlow = $verdict === Verdict::Runs && $this->slowMs !== null && $latency * 1000 > $this->slowMs;
        $readings = CheckReading::common($verdict, new Phases(wait: $latency), $isSlow);
        if ($verdict !== Verdict::Unknown) {
            $readings[] = new CheckReading('check_loss_ratio', $loss, unit: 'ratio');
        }
        if ($latency !== null) {
            $readings[] = new CheckReading('check_latency_seconds', $latency, unit: 'seconds');
            $readings[] = new CheckReading('check_jitter_seconds', $jitter ?? 0.0, unit: 'seconds');
            // One way is half of there and back.
            $readings[] = new CheckReading('check_voice_score', Voice::opinionScore($latency / 2, $jitter ?? 0.0, $loss));
        }
        $words = match (true) {
            $exchange->fault !== null => $exchange->fault,
            $verdict === Verdict::Down => sprintf('None of %d echoes came back', count($exchange->seconds)),
            $verdict === Verdict::Partly => sprintf('%d %% of %d echoes were lost', (int) round(100 * $loss), count($exchange->seconds)),
            $isSlow => Judgement::slow((float) $latency, (int) $this->slowMs),
            default => '',
        };

        return new Judgement($verdict, $words, $readings);
    }
}

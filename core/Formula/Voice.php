<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/**
 * How a voice call sounds, by the E-model of ITU-T G.107 with its default values and a G.711 codec with loss
 * concealment (ITU-T G.113, Appendix I: Ie = 0, Bpl = 25.1).
 *
 * By example: 150 ms one way (20 ms of jitter, which the buffer turns into 40 ms more, so 190 ms) and 1 % loss.
 * Idd = 2.1 (G.107, 7.4), Ie,eff = 95 × 1 / (1 + 25.1) = 3.6 (7.5), R = 93.2 − 2.1 − 3.6 = 87.5, so a score of 4.27 (Annex B).
 */
final class Voice
{
    private const R_BEST = 93.2;
    private const LOSS_ROBUSTNESS = 25.1;
    private const FREE_DELAY_MS = 100.0;

    public static function opinionScore(float $latencySeconds, float $jitterSeconds, float $lossShare): float
    {
        if (is_nan($latencySeconds) || is_nan($jitterSeconds) || is_nan($lossShare)) {
            return NAN;
        }
        $delayMs = ($latencySeconds + 2 * $jitterSeconds) * 1000;
        $delayImpairment = 0.0;
        if ($delayMs > self::FREE_DELAY_MS) {
            $x = log($delayMs / self::FREE_DELAY_MS, 2);
            $delayImpairment = 25 * ((1 + $x ** 6) ** (1 / 6) - 3 * (1 + ($x / 3) ** 6) ** (1 / 6) + 2);
        }
        $lossPercent = max(0.0, min(1.0, $lossShare)) * 100;
        $lossImpairment = (95 * $lossPercent) / ($lossPercent + self::LOSS_ROBUSTNESS);
        $r = self::R_BEST - $delayImpairment - $lossImpairment;

        return match (true) {
            $r <= 0 => 1.0,
            $r >= 100 => 4.5,
            default => max(1.0, 1 + 0.035 * $r + $r * ($r - 60) * (100 - $r) * 7e-6),
        };
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Core\Check;

/** What one asking of a check comes to: how the service stands, why, and the readings of it. */
final readonly class Judgement
{
    /**
     * @param string             $words    why, as a sentence without a full stop; "" where all is well
     * @param list<CheckReading> $readings
     */
    public function __construct(public Verdict $verdict, public string $words, public array $readings)
    {
    }

    public static function slow(float $seconds, int $slowMs): string
    {
        return sprintf('It took %s ms, more than the %s ms it is given', number_format($seconds * 1000), number_format($slowMs));
    }
}

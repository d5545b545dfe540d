<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Delivery\Decision\Tell;

/**
 * What messages cost, by the price of one by each way, in thousandths.
 *
 * At 0.075 an SMS and 0.120 a call, two SMS, a call and a mail are 0.270.
 */
final readonly class Prices
{
    /** @param array<string, int> $ofOne way → price of one message, in thousandths; a way that is not there costs nothing */
    public function __construct(private array $ofOne)
    {
    }

    /**
     * @param iterable<ReplayedCourse> $courses
     *
     * @return int thousandths, of every message that would have been sent
     */
    public function ofAll(iterable $courses): int
    {
        $sum = 0;
        foreach ($courses as $course) {
            foreach ($course->decisions as [, $decision]) {
                $sum += $decision instanceof Tell ? $this->ofOne[$decision->way] ?? 0 : 0;
            }
        }

        return $sum;
    }
}

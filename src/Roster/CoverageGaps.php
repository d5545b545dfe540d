<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Platform\SlowAnswer;
use Olivine\Core\Time\Instant;

/** How long, within the next days, alerts of each path would reach nobody on its first rungs: one of Olivine's own figures. */
final readonly class CoverageGaps implements SlowAnswer
{
    public const NAME = 'coverage';
    private const DAYS = 3;
    private const RENEW_EVERY_MS = 120_000;

    public function __construct(private CoverageView $coverage, private EntityManagerInterface $entities)
    {
    }

    public function name(): string
    {
        return self::NAME;
    }

    public function renewEveryMs(): int
    {
        return self::RENEW_EVERY_MS;
    }

    /** @return array<string, float> path → hours */
    public function work(Instant $now): array
    {
        $this->entities->clear();

        return $this->coverage->gapHours(self::DAYS);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Number;
use Olivine\App\Platform\Definition\Field\Text;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\App\Platform\Definition\ReadBack;
use Olivine\Core\Rule\Direction;
use Olivine\Core\Rule\Severity;

/** A rule as a person writes it. */
final readonly class RuleFields implements ReadBack
{
    private const WEEK = 7 * 86_400;
    private const MONTH = 30 * 86_400;

    /**
     * @param int|null $lostAfterSeconds left out, it stays as it is
     * @param int|null $version          what was read, to change it
     * @param int|null $hours            how far back it is replayed, where it is
     */
    public function __construct(
        #[Line(120, 1)]
        public string $name,
        #[Text(8_000, 1)]
        public string $formula,
        public Severity $severity,
        public Direction $direction,
        #[Number]
        public float $limit,
        #[Whole(0, self::WEEK)]
        public int $holdSeconds,
        #[Number]
        public float $clearLimit,
        #[Whole(0, self::WEEK)]
        public int $clearHoldSeconds,
        #[Whole(60, self::WEEK)]
        public int $blindAfterSeconds = 600,
        public ?Severity $blindSeverity = null,
        #[Whole(120, self::MONTH)]
        public ?int $lostAfterSeconds = null,
        #[Number]
        public ?float $worseLimit = null,
        public ?Severity $worseSeverity = null,
        #[Line(120)]
        public string $service = '',
        #[Text(2_000)]
        public string $runbook = '',
        public bool $enabled = true,
        #[Whole(1, PHP_INT_MAX)]
        public ?int $version = null,
        #[Whole(1, 336)]
        public ?int $hours = null,
    ) {
    }

    public static function readBack(): array
    {
        return ['id', 'unit', 'fault', 'brokenSince', 'phases', 'raisedInWeek'];
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\Core\Time\Instant;

final readonly class RuleRow extends Rule
{
    /**
     * @param bool         $draft         Whether somebody left a draft of it
     * @param Instant|null $lastRaisedAt  Of thirty days
     * @param Instant|null $lookedThrough The last instant that it looked at
     * @param int          $noise         Alerts of thirty days that were marked as noise
     * @param int          $useful        And as useful
     * @param int          $woken         Messages of thirty days that went out at night for it
     */
    public function __construct(
        Rule $of,
        public bool $draft,
        public ?Instant $lastRaisedAt,
        public ?Instant $lookedThrough,
        public int $noise,
        public object $phases,
        public int $raisedInWeek,
        public int $useful,
        public int $woken,
    ) {
        parent::__construct(...get_object_vars($of));
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\Core\Delivery\CourseReplay;
use Olivine\Core\Delivery\Event\AlertEnded;
use Olivine\Core\Delivery\Event\AlertRaised;
use Olivine\Core\Delivery\Event\AlertTurned;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** What happened to alerts, one after the other, through the courses that they would have taken. */
final class ReplayedAlerts
{
    /** @var array<string, true> keys of those that are up */
    private array $up = [];

    public function __construct(public readonly CourseReplay $replay)
    {
    }

    /** @param string $key of the alert, among those of all rules */
    public function happens(RuleDefinition $rule, string $key, LabelSet $labels, Phase $to, ?Severity $severity, Instant $at): void
    {
        $raises = $to === Phase::Raised || ($to === Phase::Blind && $severity !== null);
        $about = fn(): LabelSet => AlertEvents::about($rule, $labels, $severity ?? Severity::Minor);
        $event = match (true) {
            $raises && isset($this->up[$key]) => new AlertTurned($key, $severity, $rule->name, ''),
            $raises => new AlertRaised($key, $about(), $severity ?? Severity::Minor, $rule->name, ''),
            isset($this->up[$key]) && ($to === Phase::Calm || $to->isOver()) => new AlertEnded($key, $to, ''),
            default => null,
        };
        if ($event === null) {
            return;
        }
        $this->replay->happens($event, $at);
        $this->up[$key] = true;
        if ($event instanceof AlertEnded) {
            unset($this->up[$key]);
        }
    }
}

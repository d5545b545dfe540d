<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\Heard;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\WorkTime;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\Core\Delivery\CourseReplay;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** Who would have been told of what a rule would have raised, by what is set up now, if nobody had acted. */
final readonly class WhoWouldHear
{
    public function __construct(
        private WhoHears $who,
        private HeardByPeople $heard,
        private WorkTime $time,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @param list<AlertTransition> $happened in the order of time
     *
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    public function of(RuleDefinition $rule, array $happened, Instant $through): Heard
    {
        $alerts = new ReplayedAlerts(new CourseReplay($this->who->now()));
        foreach ($happened as $one) {
            $this->time->goOn();
            $transition = $one->transition;
            $alerts->happens($rule, $one->labels->key(), $one->labels, $transition->to, $transition->severity, $transition->at);
        }
        $alerts->replay->passTo($through);

        return $this->heard->of($alerts->replay->courses());
    }

    /** How long what a rule raises now, of these labels, gathers before anybody is told. */
    public function gathersFor(RuleDefinition $rule, LabelSet $labels): Duration
    {
        $now = $this->clock->now();
        $path = $this->who->now()->answering(AlertEvents::about($rule, $labels, Severity::Critical), $now);

        return $path->gather->endsAt($now)->since($now);
    }
}

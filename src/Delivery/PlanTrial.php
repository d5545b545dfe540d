<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\PlanCompared;
use Olivine\App\Delivery\Repository\KeptChannelRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\HeavyWork;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\WorkTime;
use Olivine\App\Rule\Transitions;
use Olivine\Core\Delivery\CourseReplay;
use Olivine\Core\Delivery\Prices;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Time\Duration;

/** A draft of who hears against the alerts that were: what it would have made of them, beside what is in service. */
final readonly class PlanTrial
{
    private const DAYS = 30;
    private const SECONDS = 20.0;

    public function __construct(
        private WhoHears $who,
        private PlanInService $inService,
        private PlanDrafts $drafts,
        private Transitions $transitions,
        private RaisingRules $rules,
        private HeardByPeople $heard,
        private KeptChannelRepository $channels,
        private HeavyWork $heavy,
        private WorkTime $time,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @throws Problem 429 where too much is under way already */
    public function compared(): PlanCompared
    {
        return $this->heavy->within(self::SECONDS, $this->replayed(...));
    }

    /**
     * @throws Problem
     * @throws TooMuchToRead
     */
    private function replayed(): PlanCompared
    {
        $to = $this->clock->now();
        $from = $to->minus(Duration::ofDays(self::DAYS));
        $inService = $this->inService->plan();
        $draft = $this->inService->working($this->drafts->plan(), $inService->number);
        $before = new ReplayedAlerts(new CourseReplay($this->who->by($inService)));
        $after = new ReplayedAlerts(new CourseReplay($this->who->by($draft)));
        $raised = 0;
        foreach ($this->transitions->between($from, $to) as $one) {
            $this->time->goOn();
            $by = $this->rules->of($one->ruleId, $one->revisionId);
            if ($by === null) {
                continue;
            }
            $key = IncidentStates::key($one->ruleId, $one->labelsHash);
            $raised += $one->to === Phase::Raised && $one->from !== Phase::Raised && $one->from !== Phase::Easing ? 1 : 0;
            foreach ([$before, $after] as $alerts) {
                $alerts->happens($by->rule, $key, $one->labels, $one->to, $one->severity, $one->at);
            }
        }
        foreach ([$before, $after] as $alerts) {
            $alerts->replay->passTo($to);
        }

        [$was, $is] = [$before->replay->courses(), $after->replay->courses()];
        $prices = new Prices($this->channels->prices());

        return new PlanCompared($from, $to, $raised, $this->heard->of($was), $this->heard->of($is), $prices->ofAll($was), $prices->ofAll($is));
    }
}

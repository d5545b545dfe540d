<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Repository\KeptSettingRepository;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\Core\Rule\Direction;
use Olivine\Core\Rule\Severity;

/** What a new instance looks at before anybody wrote a rule: that its targets report. Laid once; whoever removes it is not given it again. */
final readonly class StarterRules
{
    private const LAID = 'starterRules';

    public function __construct(
        private EntityManagerInterface $entities,
        private RuleRepository $rules,
        private KeptSettingRepository $settings,
        private Clock $clock = new Clock(),
    ) {
    }

    public function lay(): void
    {
        if ($this->settings->keepFirst(self::LAID, '1') && $this->rules->count() === 0) {
            $this->entities->persist($this->silentTarget());
            $this->entities->flush();
        }
    }

    /** A target that failed all of its scrapes for five minutes, or that nobody asked for ten. */
    private function silentTarget(): Rule
    {
        $rule = new Rule();
        $rule->createdAt = $this->clock->now();
        $rule->name = 'Silent target';
        $rule->formula = 'olivine_scrape_success';
        $rule->severity = Severity::Major;
        $rule->direction = Direction::Below;
        $rule->limit = 1;
        $rule->holdSeconds = 300;
        $rule->clearLimit = 1;
        $rule->clearHoldSeconds = 60;
        $rule->blindAfterSeconds = 600;
        $rule->blindSeverity = Severity::Major;
        $rule->runbook = 'Open the target in Fleet: its page says since when it does not answer, and why.';

        return $rule;
    }
}

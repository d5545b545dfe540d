<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\Repository\KeptSettingRepository;
use Olivine\App\Rule\Definition\LimitFields;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\App\Rule\Definition\ThresholdFields;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;

/** What a new instance looks at before anybody wrote a rule: that its targets report. Laid once; whoever removes it is not given it again. */
final readonly class StarterRules
{
    private const LAID = 'starterRules';

    public function __construct(
        private RuleRevisions $revisions,
        private RuleRepository $rules,
        private KeptSettingRepository $settings,
    ) {
    }

    public function lay(): void
    {
        if ($this->settings->keepFirst(self::LAID, '1') && $this->rules->count() === 0) {
            $this->revisions->begin($this->silentTarget());
        }
    }

    /** A target that failed all of its scrapes for five minutes, or that nobody asked for ten. */
    private function silentTarget(): RuleDefinition
    {
        return new RuleDefinition(
            name: 'Silent target',
            formula: 'olivine_scrape_success',
            condition: new ThresholdFields(Side::Below, [new LimitFields(Severity::Major, 1)], 1),
            holdSeconds: 300,
            clearHoldSeconds: 60,
            blindSeverity: Severity::Major,
            runbook: 'Open the target in Fleet: its page says since when it does not answer, and why.',
        );
    }
}

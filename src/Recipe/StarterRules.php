<?php

declare(strict_types=1);

namespace Olivine\App\Recipe;

use Olivine\App\Platform\Repository\KeptSettingRepository;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\App\Rule\RuleRevisions;

/** What a new instance looks at before anybody wrote a rule: what holds for every target. Laid once; whoever removes it is not given it again. */
final readonly class StarterRules
{
    private const LAID = 'starterRules';
    private const RECIPE = 'every-target';

    public function __construct(
        private Shelf $shelf,
        private RuleRevisions $revisions,
        private RuleRepository $rules,
        private KeptSettingRepository $settings,
    ) {
    }

    public function lay(): void
    {
        if ($this->settings->keepFirst(self::LAID, '1') && $this->rules->count() === 0) {
            foreach ($this->shelf->all()[self::RECIPE]->rules ?? [] as $rule) {
                $this->revisions->begin($rule->definition);
            }
        }
    }
}

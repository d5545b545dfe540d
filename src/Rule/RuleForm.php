<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Definition\RuleFields;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Rule\BadRule;

/** Takes what people wrote of a rule over, after all that can only be told beside what is there. */
final readonly class RuleForm
{
    public function __construct(private RuleRepository $rules, private Checker $checker)
    {
    }

    /**
     * @throws Problem      naming the field
     * @throws FormulaError where the formula cannot be read or worked out
     * @throws BadRule      naming the field that cannot be so
     */
    public function fill(Rule $rule, RuleFields $fields): void
    {
        $same = $this->rules->named($fields->name);
        if ($same !== null && $same->id !== $rule->id) {
            throw Problem::field('name', "There is a rule named {$fields->name} already");
        }
        $this->fillCondition($rule, $fields);
    }

    /**
     * All that decides what it raises; what a replay needs.
     *
     * @throws FormulaError where the formula cannot be read or worked out
     * @throws Problem      naming the field and what it must be
     * @throws BadRule      naming the field that cannot be so
     */
    public function fillCondition(Rule $rule, RuleFields $fields): void
    {
        $this->checker->unitOf(Parser::parse($fields->formula));
        $rule->name = $fields->name;
        $rule->formula = $fields->formula;
        $rule->severity = $fields->severity;
        $rule->direction = $fields->direction;
        $rule->limit = $fields->limit;
        $rule->holdSeconds = $fields->holdSeconds;
        $rule->clearLimit = $fields->clearLimit;
        $rule->clearHoldSeconds = $fields->clearHoldSeconds;
        $rule->blindAfterSeconds = $fields->blindAfterSeconds;
        $rule->blindSeverity = $fields->blindSeverity;
        $rule->lostAfterSeconds = $fields->lostAfterSeconds ?? $rule->lostAfterSeconds;
        $rule->worseLimit = $fields->worseLimit;
        $rule->worseSeverity = $fields->worseSeverity;
        $rule->service = $fields->service;
        $rule->runbook = self::runbook($fields->runbook);
        $rule->enabled = $fields->enabled;
        // It says what does not fit together.
        $rule->threshold();
    }

    /** @throws Problem */
    private static function runbook(string $runbook): string
    {
        $isAddress = preg_match('~^[a-z][a-z0-9+.-]*:~i', $runbook) === 1;

        return !$isAddress || preg_match('~^https?://~i', $runbook) === 1
            ? $runbook
            : throw Problem::field('runbook', 'runbook must be a web address (http or https) or plain words');
    }
}

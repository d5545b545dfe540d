<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\People\Audit;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\Repository\AlertMarkRepository;
use Olivine\App\Rule\Repository\RuleDraftRepository;

/** Takes a rule out, where nothing needs it any more; what it raised keeps its revisions. */
final readonly class RuleRemoval
{
    public function __construct(
        private EntityManagerInterface $entities,
        private IncidentAlertRepository $raised,
        private RuleForm $form,
        private RuleView $view,
        private AlertMarkRepository $marks,
        private RuleDraftRepository $drafts,
        private AlertStates $alerts,
        private RuleProblems $problems,
        private Audit $audit,
    ) {
    }

    /**
     * @param list<string> $withIt rules that go, too
     *
     * @throws Problem 409 where it has alerts in an open incident, or other rules look at its alerts
     */
    public function remove(Rule $rule, array $withIt = []): void
    {
        if ($this->raised->countRaisedBy($rule->id()) > 0) {
            throw new Problem(409, "{$rule->name} has alerts in an open incident; resolve that first, or switch the rule off");
        }
        $users = array_diff($this->form->usersOf($rule), $withIt);
        if ($users !== []) {
            throw new Problem(409, implode(', ', $users) . " looks at the alerts of {$rule->name}; change that first, or switch this one off");
        }
        $before = $this->view->shown($rule);
        $this->alerts->drop($rule->id());
        $this->problems->drop($rule->id());
        foreach ([...$this->marks->of($rule->id()), $this->drafts->ofRule($rule->id())] as $left) {
            if ($left !== null) {
                $this->entities->remove($left);
            }
        }
        $this->entities->remove($rule);
        $this->entities->flush();
        $this->audit->record('removed', "rule {$before->definition->name}", $before, null);
    }
}

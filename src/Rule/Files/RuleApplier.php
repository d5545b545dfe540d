<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Files\Keep;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\RuleRemoval;
use Olivine\App\Rule\RuleRevisions;
use Olivine\App\Rule\RuleView;

/** Does what was planned: all of it, in one transaction, or nothing. */
final readonly class RuleApplier
{
    public function __construct(
        private EntityManagerInterface $entities,
        private RuleRevisions $revisions,
        private RuleRemoval $removal,
        private RuleView $view,
        private Audit $audit,
    ) {
    }

    /**
     * @param list<PlannedRule> $planned
     * @param Keep|null         $keep    of what was changed by hand
     *
     * @throws Problem where something was changed by hand and nobody says which is meant, or a rule cannot go
     */
    public function apply(array $planned, ?Keep $keep, ?Person $author, string $reason): void
    {
        $byHand = array_filter($planned, static fn(PlannedRule $one): bool => $one->what === Planned::ByHand);
        if ($byHand !== [] && $keep === null) {
            $names = implode(', ', array_map(static fn(PlannedRule $one): string => $one->name, $byHand));
            throw new Problem(409, "Changed by hand since the last apply: {$names}. Say which is meant: --keep hand or --keep file");
        }
        $this->entities->wrapInTransaction(function () use ($planned, $keep, $author, $reason): void {
            foreach ($planned as $one) {
                if ($one->what === Planned::Remove && $one->rule !== null) {
                    $this->removal->remove($one->rule, array_column(
                        array_filter($planned, static fn(PlannedRule $other): bool => $other->what === Planned::Remove),
                        'name',
                    ));
                }
            }
            $this->freeNames($planned);
            foreach ($planned as $one) {
                if ($one->file !== null && $one->what !== Planned::Same) {
                    $this->one($one, $one->file, $keep, $author, $reason);
                }
            }
        });
    }

    /**
     * Rules that change their names among each other would meet on the way.
     *
     * @param list<PlannedRule> $planned
     */
    private function freeNames(array $planned): void
    {
        foreach ($planned as $one) {
            if ($one->rule !== null && $one->file !== null && $one->rule->name !== $one->name) {
                $one->rule->name = "renamed {$one->rule->id()}";
            }
        }
        $this->entities->flush();
    }

    /** @throws Problem */
    private function one(PlannedRule $one, RuleOfFile $file, ?Keep $keep, ?Person $author, string $reason): void
    {
        $rule = $one->rule;
        $before = $rule === null ? null : $this->view->shown($rule);
        if ($one->what === Planned::ByHand && $keep === Keep::Hand) {
            // It stays changed by hand until its file says the same.
            if ($rule !== null && $before !== null) {
                $rule->name = $before->definition->name;
            }

            return;
        }
        if ($rule === null) {
            $rule = $this->revisions->begin($file->definition, $file->enabled, $author, $reason);
        } else {
            $rule->enabled = $file->enabled;
            $this->revisions->change($rule, $file->definition, $author, $reason);
            $rule->name = $file->definition->name;
        }
        $rule->fileKey = $file->key;
        $rule->fileName = mb_substr($file->file, -255);
        $rule->appliedId = $rule->inService->id();
        $this->entities->flush();
        if ($one->what !== Planned::Adopt) {
            $this->audit->record($before === null ? 'added' : 'changed', "rule {$rule->name}", $before, $this->view->shown($rule), $author);
        }
    }
}

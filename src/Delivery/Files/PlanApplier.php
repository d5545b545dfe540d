<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

use Olivine\App\Delivery\PlanChanges;
use Olivine\App\Delivery\PlanInService;
use Olivine\App\Delivery\PlanPart;
use Olivine\App\Delivery\PlanRevisions;
use Olivine\App\Delivery\Plans;
use Olivine\App\Files\Keep;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Problem;

/** Does what was planned: all of it, as one revision, or nothing. To be called within a transaction. */
final readonly class PlanApplier
{
    public function __construct(private PlanRevisions $revisions, private PlanInService $inService, private AppliedParts $applied)
    {
    }

    /** @throws Problem where something was changed by hand and nobody says which is meant */
    public static function refuse(PlannedPlan $planned, ?Keep $keep): void
    {
        if ($planned->hand !== [] && $keep === null) {
            $names = implode(', ', $planned->hand);
            throw new Problem(409, "Changed by hand since the last apply: {$names}. Say which is meant: --keep hand or --keep file");
        }
    }

    /** @throws Problem where something was changed by hand and nobody says which is meant, or what it names is not there */
    public function apply(PlannedPlan $planned, ?Keep $keep, ?Person $author, string $reason): void
    {
        self::refuse($planned, $keep);
        $plan = $keep === Keep::Hand ? $planned->byHand : $planned->plan;
        if (PlanChanges::between($this->inService->plan()->definition, $plan) !== []) {
            $this->revisions->putIntoService($plan, $reason, $author);
        }
        $applied = $this->applied->all();
        foreach (PlanPart::cases() as $kind) {
            foreach ($kind->of($planned->plan) as $name => $part) {
                $of = "{$kind->value} {$name}";
                if (isset($planned->fileOf[$of])) {
                    $applied[$of] = ['file' => mb_substr($planned->fileOf[$of], -255), 'said' => Plans::kept($part)];
                }
            }
        }
        $this->applied->keep($applied);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** Who hears: as it is in service, as a draft would have it, and what there is to choose from. */
final readonly class PlanPage
{
    /** @param list<PartFromFile> $files parts that come from files */
    public function __construct(public ShownPlan $inService, public ?ShownPlanDraft $draft, public PlanChoices $choices, public array $files)
    {
    }
}

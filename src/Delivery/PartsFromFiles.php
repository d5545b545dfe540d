<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\PartFromFile;
use Olivine\App\Delivery\Answer\PlanChange;
use Olivine\App\Delivery\Files\AppliedParts;
use Olivine\App\Platform\Problem;

/** Parts that come from files: whoever changes one by hand says that this is meant, as the next apply will ask. */
final readonly class PartsFromFiles
{
    public function __construct(private AppliedParts $applied, private PlanInService $inService, private PlanDrafts $drafts)
    {
    }

    /** @return list<PartFromFile> of what is in service */
    public function all(): array
    {
        $there = [];
        foreach (PlanPart::cases() as $kind) {
            foreach (array_keys($kind->of($this->inService->plan()->definition)) as $name) {
                $there["{$kind->value} {$name}"] = true;
            }
        }
        $parts = [];
        foreach (array_intersect_key($this->applied->all(), $there) as $part => $applied) {
            $parts[] = new PartFromFile((string) $part, $applied['file']);
        }

        return $parts;
    }

    /** @throws Problem 409 where the draft changes parts that come from files, and nobody said that this is meant */
    public function holdDraft(bool $isMeant): void
    {
        $changes = PlanChanges::between($this->inService->plan()->definition, $this->drafts->plan());
        $changed = array_map(static fn(PlanChange $one): string => "{$one->kind} {$one->name}", $changes);
        $owned = array_filter($this->all(), static fn(PartFromFile $one): bool => in_array($one->part, $changed, true));
        if ($owned !== [] && !$isMeant) {
            $words = implode(', ', array_map(static fn(PartFromFile $one): string => "{$one->part} from {$one->file}", $owned));
            throw new Problem(409, "It changes what comes from files: {$words}. Say overFiles if that is meant; the next apply asks which of the two is");
        }
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Recipe\Answer;

use Olivine\App\Recipe\Entity\Finding as Kept;
use Olivine\App\Recipe\FindingGrade;
use Olivine\App\Recipe\Recipe as Held;
use Olivine\App\Recipe\RecipeFinding;

/** A finding as it stands in the list. */
final readonly class Finding
{
    /** @param object $labels where it was found */
    public function __construct(
        public int $id,
        public string $recipe,
        public string $recipeName,
        public string $name,
        public FindingGrade $grade,
        public string $remedy,
        public string $formula,
        public object $labels,
        public float $value,
        public string $unit,
        public int $firstAt,
        public int $lastAt,
        public ?int $asideAt,
        public string $asideBy,
        public string $reason,
    ) {
    }

    public static function of(Kept $finding, Held $recipe, RecipeFinding $about, string $unit): self
    {
        return new self(
            (int) $finding->id,
            $recipe->key,
            $recipe->name,
            $about->name,
            $about->grade,
            $about->remedy,
            $about->formula,
            (object) $finding->labels,
            $finding->value,
            $unit,
            $finding->firstAt->ms,
            $finding->lastAt->ms,
            $finding->asideAt?->ms,
            $finding->asideBy,
            $finding->reason,
        );
    }
}

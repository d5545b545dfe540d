<?php

declare(strict_types=1);

namespace Olivine\App\Recipe\Answer;

use Olivine\App\Recipe\Entity\Finding;
use Olivine\App\Recipe\Recipe;
use Olivine\App\Recipe\RecipeFinding;

/** A finding as it stands in the list. */
final readonly class ShownFinding
{
    public int $id;
    public string $recipe;
    public string $recipeName;
    public string $name;
    public string $grade;
    public string $remedy;
    public string $formula;
    public object $labels;
    public float $value;
    public string $unit;
    public int $firstAt;
    public int $lastAt;
    public ?int $asideAt;
    public string $asideBy;
    public string $reason;

    public function __construct(Finding $finding, Recipe $recipe, RecipeFinding $about, string $unit)
    {
        $this->id = (int) $finding->id;
        $this->recipe = $recipe->key;
        $this->recipeName = $recipe->name;
        $this->name = $about->name;
        $this->grade = $about->grade->value;
        $this->remedy = $about->remedy;
        $this->formula = $about->formula;
        $this->labels = (object) $finding->labels;
        $this->value = $finding->value;
        $this->unit = $unit;
        $this->firstAt = $finding->firstAt->ms;
        $this->lastAt = $finding->lastAt->ms;
        $this->asideAt = $finding->asideAt?->ms;
        $this->asideBy = $finding->asideBy;
        $this->reason = $finding->reason;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Recipe\Answer;

use Olivine\App\Collect\Answer\CheckTrial;
use Olivine\App\Collect\Answer\TargetTest;
use Olivine\App\Recipe\Recipe;

/** What came of trying a recipe on a thing: the whole exchange, and which of its metrics came. */
final readonly class RecipeTrial
{
    /** @var list<string> of the metrics that the recipe names, those that came */
    public array $came;
    /** @var list<string> and those that did not */
    public array $missing;

    /**
     * @param list<string> $brought  the names of all that came
     * @param string       $proposed a name for it
     */
    public function __construct(Recipe $recipe, public ?CheckTrial $check, public ?TargetTest $target, array $brought, public string $proposed)
    {
        $isHere = static fn(string $metric): bool => in_array($metric, $brought, true) || in_array(self::family($metric), $brought, true);
        $named = array_map(strval(...), array_keys($recipe->metrics));
        $this->came = array_values(array_filter($named, $isHere));
        $this->missing = array_values(array_filter($named, static fn(string $metric): bool => !$isHere($metric)));
    }

    /** A counter's family has its name without the end. */
    private static function family(string $metric): string
    {
        return (string) preg_replace('~_total$~D', '', $metric);
    }
}

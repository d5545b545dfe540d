<?php

declare(strict_types=1);

namespace Olivine\App\Recipe;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Recipe\Entity\Finding;
use Olivine\App\Recipe\Repository\FindingRepository;
use Olivine\App\Store\SeriesIndex;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Formula\Tree;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/**
 * Looks for known faults in what is watched, and keeps what it finds: since when each is so, and what was left aside.
 *
 * One that cannot be worked out keeps none of the others from being looked for, and what was found of it stays as it was.
 */
final readonly class Findings
{
    private const STEP_MS = 15_000;
    /** Of one finding; more of them say no more. */
    private const MOST_PLACES = 200;

    public function __construct(
        private Shelf $shelf,
        private SeriesIndex $index,
        private Evaluator $evaluator,
        private FindingRepository $findings,
        private EntityManagerInterface $entities,
    ) {
    }

    /** @return list<string> what could not be worked out, and why */
    public function look(Instant $now): array
    {
        $kept = [];
        foreach ($this->findings->findAll() as $finding) {
            $kept[$finding->identity] = $finding;
        }
        [$unread, $seen] = [[], []];
        foreach ($this->shelf->all() as $recipe) {
            foreach ($recipe->findings as $finding) {
                try {
                    $places = $this->places($finding, $now);
                } catch (TooMuchToRead|FormulaError $error) {
                    $unread[] = "{$finding->name}: {$error->getMessage()}";
                    $seen += self::of($kept, $recipe->key, $finding->key);
                    continue;
                }
                foreach ($places as [$labels, $value]) {
                    $identity = self::identity($recipe->key, $finding->key, $labels);
                    $seen[$identity] = $kept[$identity] ??= $this->begun($identity, $recipe->key, $finding->key, $labels, $now);
                    $seen[$identity]->found($value, $now);
                }
            }
        }
        foreach (array_diff_key($kept, $seen) as $gone) {
            $gone->goneAt ??= $now;
        }
        $this->entities->flush();

        return $unread;
    }

    /**
     * @return list<array{LabelSet, float}> where it is so, and what was found there
     *
     * @throws TooMuchToRead
     * @throws FormulaError  where two sides cannot be paired
     */
    private function places(RecipeFinding $finding, Instant $now): array
    {
        $tree = Parser::parse($finding->formula);
        foreach (Tree::selections($tree) as $selection) {
            if ($this->index->ofMetric($selection->metric) === []) {
                return [];
            }
        }
        $at = intdiv($now->ms, self::STEP_MS) * self::STEP_MS;
        $places = [];
        foreach ($this->evaluator->range($tree, $at, $at, self::STEP_MS)->lines as $line) {
            $value = $line->values[0] ?? null;
            if ($value !== null && $finding->side->isPast($value, $finding->limit)) {
                $places[] = [$line->labels, $value];
            }
        }

        return array_slice($places, 0, self::MOST_PLACES);
    }

    private function begun(string $identity, string $recipe, string $key, LabelSet $labels, Instant $now): Finding
    {
        $finding = new Finding($identity, $recipe, $key, $labels->labels, $now);
        $this->entities->persist($finding);

        return $finding;
    }

    /**
     * @param array<string, Finding> $kept
     *
     * @return array<string, Finding> those of one finding
     */
    private static function of(array $kept, string $recipe, string $key): array
    {
        return array_filter($kept, static fn(Finding $one): bool => $one->recipe === $recipe && $one->key === $key && $one->goneAt === null);
    }

    private static function identity(string $recipe, string $key, LabelSet $labels): string
    {
        return substr(hash('sha256', "{$recipe} {$key} {$labels->key()}"), 0, 32);
    }
}

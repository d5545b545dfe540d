<?php

declare(strict_types=1);

namespace Olivine\App\Recipe;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Repository\KeptSettingRepository;
use Olivine\App\Recipe\Entity\Finding;
use Olivine\App\Recipe\Repository\FindingRepository;
use Olivine\App\Store\SeriesIndex;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Formula\Tree;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
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
    /** What was gone for so long is not remembered; where it comes back it is new. */
    private const KEPT_DAYS = 30;
    private const LOOKED = 'findings';
    private const MOST_UNREAD = 6;
    /** So that all of it fits into a setting. */
    private const LONGEST_WORDS = 150;

    public function __construct(
        private Shelf $shelf,
        private SeriesIndex $index,
        private Evaluator $evaluator,
        private FindingRepository $findings,
        private EntityManagerInterface $entities,
        private Database $database,
        private KeptSettingRepository $settings,
    ) {
    }

    public function look(Instant $now): void
    {
        [$found, $unread, $unknown] = [[], [], []];
        foreach ($this->shelf->all() as $recipe) {
            foreach ($recipe->findings as $finding) {
                try {
                    $places = $this->places($finding, $now);
                } catch (TooMuchToRead|FormulaError $error) {
                    $unread[] = "{$finding->name}: {$error->getMessage()}";
                    $unknown["{$recipe->key} {$finding->key}"] = true;
                    continue;
                }
                if (count($places) > self::MOST_PLACES) {
                    $unread[] = sprintf('%s: in %d more places', $finding->name, count($places) - self::MOST_PLACES);
                }
                foreach (array_slice($places, 0, self::MOST_PLACES) as [$labels, $value]) {
                    $found[] = [$recipe->key, $finding->key, $labels, $value];
                }
            }
        }
        $shown = array_map(static fn(string $one): string => mb_substr($one, 0, self::LONGEST_WORDS), array_slice($unread, 0, self::MOST_UNREAD));
        if (count($unread) > self::MOST_UNREAD) {
            $shown[] = sprintf('and %d more', count($unread) - self::MOST_UNREAD);
        }
        // Two who look at once find the same; the second of them sees what the first kept.
        $this->database->transaction(fn() => $this->keep($found, $unknown, $now));
        $looked = ['at' => $now->ms, 'unread' => $shown];
        $this->settings->keep(self::LOOKED, json_encode($looked, JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE));
    }

    /** @return array{at: int|null, unread: list<string>} when they were looked for last, and what could not be worked out then, and why */
    public function lastLook(): array
    {
        /** @var array{at?: int, unread?: list<string>} $last */
        $last = json_decode($this->settings->value(self::LOOKED) ?? '{}', true, 4, JSON_THROW_ON_ERROR);

        return ['at' => $last['at'] ?? null, 'unread' => $last['unread'] ?? []];
    }

    /**
     * @param list<array{string, string, LabelSet, float}> $found   recipe, key, where, and what was found there
     * @param array<string, true>                          $unknown recipe and key of what could not be worked out
     */
    private function keep(array $found, array $unknown, Instant $now): void
    {
        $this->findings->forgetGoneBefore($now->minus(Duration::ofDays(self::KEPT_DAYS)));
        [$kept, $there] = [[], []];
        foreach ($this->findings->findAll() as $finding) {
            $kept[$finding->identity()] = $finding;
        }
        foreach ($found as [$recipe, $key, $labels, $value]) {
            $new = new Finding($recipe, $key, $labels, $now);
            $finding = $kept[$new->identity()] ?? $new;
            if ($finding === $new) {
                $this->entities->persist($new);
            }
            $finding->found($value, $now);
            $there[$new->identity()] = true;
        }
        foreach (array_diff_key($kept, $there) as $gone) {
            if (!isset($unknown["{$gone->recipe} {$gone->key}"])) {
                $gone->goneAt ??= $now;
            }
        }
        $this->entities->flush();
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

        return $places;
    }
}

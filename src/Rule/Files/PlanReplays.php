<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Replays;
use Olivine\App\Rule\RuleDefinitions;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\BadRule;

/** What the changes of a plan would have meant in the last week. */
final readonly class PlanReplays
{
    private const HOURS = 168;
    /** What does not change when a rule raises. */
    private const WORDS_ONLY = ['name', 'owner', 'runbook', 'service', 'depends-on'];

    public function __construct(private Replays $replays, private RuleDefinitions $definitions)
    {
    }

    /**
     * @param list<PlannedRule> $planned
     *
     * @return array<string, string> key → in words
     */
    public function of(array $planned): array
    {
        $meanings = [];
        foreach (PlanWords::differing($planned) as $one) {
            $isWordsOnly = $one->what !== Planned::Add && array_diff(array_keys($one->changes), self::WORDS_ONLY) === [];
            if ($one->file === null || $isWordsOnly) {
                continue;
            }
            try {
                $meanings[$one->key] = $this->meaning($one->file, $one);
            } catch (FormulaError|TooMuchToRead|BadRule|Problem $error) {
                $meanings[$one->key] = "its replay failed: {$error->getMessage()}";
            }
        }

        return $meanings;
    }

    /**
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws BadRule       naming the field that cannot be so
     * @throws Problem       where too much is under way already
     */
    private function meaning(RuleOfFile $file, PlannedRule $one): string
    {
        $before = $one->rule === null ? null : $this->definitions->of($one->rule->inService);
        $replay = $this->replays->of($file->definition, self::HOURS, $before);
        $count = count($replay->spells);
        $alerts = $count === 1 ? 'one alert' : "{$count} alerts";
        if ($replay->differences === null) {
            return "in the last 7 d it would have raised {$alerts}";
        }
        $changes = [];
        foreach ($replay->differences as $difference) {
            $changes[$difference->change->value] = ($changes[$difference->change->value] ?? 0) + 1;
        }
        $each = array_map(static fn(string $change, int $many): string => "{$many} {$change}", array_keys($changes), $changes);

        return "in the last 7 d: {$alerts}" . ($each === [] ? '' : ' (' . implode(', ', $each) . ')');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Scalar;
use Olivine\App\Store\Answer\Why;
use Olivine\Core\Formula\Nearest;
use Olivine\Core\Formula\Node\AllOf;
use Olivine\Core\Formula\Node\AnyOf;
use Olivine\Core\Formula\Node\Filter;
use Olivine\Core\Formula\Node\LabelOperator;
use Olivine\Core\Formula\Node\LabelTest;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\NoneOf;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Formula\Tree;

/** Where a formula finds nothing: which of its parts, and why. */
final readonly class WhyNothing
{
    private const LOOKED_AT = 50;

    public function __construct(private Connection $connection, private SeriesIndex $index, private Retention $retention)
    {
    }

    /** @throws TooMuchToRead where it would take more than may be read at once */
    public function of(Node $formula, int $fromMs): Why
    {
        foreach (Tree::selections($formula) as $selection) {
            $selected = $this->index->select($selection);
            if ($selected === []) {
                return $this->noSeries($selection);
            }
            $newest = $this->newest($selected);
            if ($newest === null || $newest < $fromMs) {
                return $this->noReadings($selection, $selected, $newest);
            }
        }

        if ($this->retention->finestMs($fromMs) > 0) {
            return new Why(
                words: 'The readings of this span were let go, as Setup says; what is left of them are roll-ups, which tell mean, ' .
                    'min, max, sum, count, first, last, range, change, growth and rate over whole multiples of ' .
                    ($this->retention->finestMs($fromMs) > 300_000 ? 'an hour' : 'five minutes'),
            );
        }

        return new Why(
            words: 'The series are there, but the formula gives no value in this span; two sides may share no labels, or no window may hold enough readings',
        );
    }

    private function noSeries(Select $selection): Why
    {
        $all = $this->index->ofMetric($selection->metric);
        foreach ($selection->where === null ? [] : self::tests($selection->where) as $test) {
            $values = [];
            foreach ($all as $series) {
                $values[$series->labels->get($test->label)] = true;
            }
            $values = array_map(strval(...), array_keys($values));
            if ($values === [''] || $values === []) {
                $names = [];
                foreach ($all as $series) {
                    $names += $series->labels->labels;
                }

                return new Why(
                    words: "No series of {$selection->metric} has a label {$test->label}",
                    suggestion: Nearest::to($test->label, array_map(strval(...), array_keys($names))),
                );
            }
            if (
                in_array($test->operator, [LabelOperator::Equals, LabelOperator::In], true)
                && array_intersect($test->values, $values) === []
            ) {
                return new Why(
                    words: sprintf('No series of %s has %s = "%s"', $selection->metric, $test->label, $test->values[0]),
                    suggestion: Nearest::to($test->values[0], $values),
                );
            }
        }

        return new Why(words: "{$selection->metric} has " . count($all) . ' series, but none passes the whole filter');
    }

    /**
     * @param non-empty-list<IndexedSeries> $selected
     */
    private function noReadings(Select $selection, array $selected, ?int $newest): Why
    {
        $targets = array_values(
            array_unique(
                array_map(
                    static fn(IndexedSeries $series): string => $series->labels->get('target'),
                    array_slice($selected, 0, self::LOOKED_AT),
                ),
            ),
        );
        foreach ($targets as $target) {
            $status = $this->connection->fetchAssociative(
                'SELECT t.paused, s.ok, s.message FROM target t LEFT JOIN target_status s ON s.target_id = t.id WHERE t.name = ?',
                [$target],
            );
            if ($status !== false && Scalar::int($status['paused']) === 1) {
                return new Why(
                    words: "{$selection->metric} has no readings in this span: its target {$target} is paused",
                    newest: $newest,
                );
            }
            if ($status !== false && $status['ok'] !== null && Scalar::int($status['ok']) === 0) {
                return new Why(
                    words: "{$selection->metric} has no readings in this span: its target {$target} does not answer (" .
                        Scalar::text($status['message']) .
                        ')',
                    newest: $newest,
                );
            }
        }

        return new Why(
            words: "{$selection->metric} has no readings in this span" . ($newest === null ? ', nor any other' : ''),
            newest: $newest,
        );
    }

    /** @param non-empty-list<IndexedSeries> $selected */
    private function newest(array $selected): ?int
    {
        $newest = 0;
        foreach (array_slice($selected, 0, self::LOOKED_AT) as $series) {
            $newest = max(
                $newest,
                Scalar::int($this->connection->fetchOne('SELECT MAX(at) FROM scrape_row WHERE page = ?', [$series->page])),
                Scalar::int($this->connection->fetchOne('SELECT MAX(to_at) FROM block WHERE series = ?', [$series->id])),
            );
        }

        return $newest === 0 ? null : $newest;
    }

    /** @return list<LabelTest> */
    private static function tests(Filter $filter): array
    {
        return match (true) {
            $filter instanceof LabelTest => [$filter],
            $filter instanceof AllOf => [...self::tests($filter->left), ...self::tests($filter->right)],
            // What stands in one side of an "or", or under a "not", need not hold for itself.
            $filter instanceof AnyOf, $filter instanceof NoneOf => [],
            default => [],
        };
    }
}

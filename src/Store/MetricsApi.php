<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Printer;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Metrics, their labels, and charts of formulas. */
#[IsGranted('ROLE_VIEWER')]
final readonly class MetricsApi
{
    private const MOST_LINES = 200;
    private const LONGEST_SPAN_MS = 31 * 86_400_000;
    private const MOST_VALUES = 60;

    public function __construct(private Connection $connection, private SeriesIndex $index, private Evaluator $evaluator, private Checker $checker)
    {
    }

    #[Route('/api/metrics', methods: ['GET'])]
    public function metrics(): JsonResponse
    {
        return new JsonResponse(array_map(static fn(array $row): array => [
            'name' => $row['name'], 'type' => $row['type'], 'unit' => $row['unit'], 'help' => $row['help'], 'series' => (int) $row['series'],
        ], $this->connection->fetchAllAssociative(
            'SELECT m.name, m.type, m.unit, m.help, COUNT(s.id) AS series FROM metric m JOIN series s ON s.metric_id = m.id GROUP BY m.id ORDER BY m.name',
        )));
    }

    #[Route('/api/metrics/labels', methods: ['GET'])]
    public function labels(Request $request): JsonResponse
    {
        $values = [];
        foreach ($this->index->ofMetric($request->query->getString('metric')) as $series) {
            foreach ($series->labels->labels as $name => $value) {
                $values[$name][$value] = ($values[$name][$value] ?? 0) + 1;
            }
        }
        ksort($values);
        $labels = [];
        foreach ($values as $name => $counts) {
            ksort($counts, SORT_NATURAL);
            $labels[] = ['name' => $name, 'count' => count($counts), 'values' => array_map(strval(...), array_slice(array_keys($counts), 0, self::MOST_VALUES))];
        }

        return new JsonResponse($labels);
    }

    #[Route('/api/chart', methods: ['GET'])]
    public function chart(Request $request): JsonResponse
    {
        $now = Clock::nowMs();
        $from = $request->query->getInt('from', $now - 3_600_000);
        $to = min($request->query->getInt('to', $now), $now);
        $points = max(2, min(2_000, $request->query->getInt('points', 600)));
        if ($to <= $from) {
            throw Problem::field('from', 'from must lie before to, and before now');
        }
        if ($to - $from > self::LONGEST_SPAN_MS) {
            throw Problem::field('from', 'a chart shows at most 31 days');
        }
        $tree = Parser::parse($request->query->getString('formula'));
        $unit = $this->checker->unitOf($tree);
        $step = max(1_000, (int) (ceil(($to - $from) / $points / 1_000) * 1_000));
        $first = (intdiv($from, $step) + 1) * $step;
        $began = hrtime(true);
        $result = $this->evaluator->range($tree, $first, $to, $step);
        $lines = [];
        foreach (array_slice($result->lines, 0, self::MOST_LINES) as $line) {
            $lines[] = ['labels' => (object) $line->labels->labels, 'values' => array_map(static fn(?float $value): ?float => $value === null || !is_finite($value) ? null : $value, $line->values)];
        }

        return new JsonResponse([
            'formula' => Printer::print($tree),
            'metric' => $tree instanceof Select ? $tree->metric : null,
            'unit' => $unit,
            'from' => $from,
            'to' => $to,
            'first' => $first,
            'step' => $step,
            'lines' => $lines,
            'more' => max(0, count($result->lines) - self::MOST_LINES),
            'tookMs' => round((hrtime(true) - $began) / 1e6, 1),
            'newest' => $lines === [] ? $this->newest($tree) : null,
        ]);
    }

    /** Where nothing was found: the newest reading of the metric, to say why. */
    private function newest(object $tree): ?int
    {
        while (!$tree instanceof Select) {
            if (property_exists($tree, 'of')) {
                $tree = $tree->of;
            } elseif (property_exists($tree, 'left')) {
                $tree = $tree->left;
            } else {
                return null;
            }
        }
        $selected = $this->index->select($tree);
        if ($selected === []) {
            return null;
        }
        $newest = 0;
        foreach (array_slice($selected, 0, 50) as $series) {
            $newest = max(
                $newest,
                (int) $this->connection->fetchOne('SELECT MAX(at) FROM scrape_row WHERE page = ?', [$series->page]),
                (int) $this->connection->fetchOne('SELECT MAX(to_at) FROM block WHERE series = ?', [$series->id]),
            );
        }

        return $newest === 0 ? null : $newest;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\App\Platform\Clock;
use Olivine\App\Platform\FewAnswers;
use Olivine\App\Platform\HeavyWork;
use Olivine\App\Platform\Problem;
use Olivine\App\Store\Answer\Band;
use Olivine\App\Store\Answer\ChartLine;
use Olivine\App\Store\Answer\DrawnChart;
use Olivine\App\Store\Answer\LabelValues;
use Olivine\App\Store\Answer\UsualBands;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Lines;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Printer;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Formula\Tree;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Symfony\Contracts\Cache\CacheInterface;
use Symfony\Contracts\Cache\ItemInterface;

/** Metrics, their labels, and charts of formulas. */
#[IsGranted('ROLE_VIEWER')]
final readonly class MetricsApi
{
    private const MOST_LINES = 200;
    private const METRICS_KEPT_SECONDS = 5;
    private const CHART_KEPT_MS = 1_000;
    private const USUAL_KEPT_MS = 60_000;
    private const LONGEST_SPAN_MS = 400 * 86_400_000;
    private const STEPS_SECONDS = [
        1,
        2,
        5,
        10,
        15,
        30,
        60,
        120,
        180,
        300,
        600,
        900,
        1_800,
        3_600,
        7_200,
        10_800,
        21_600,
        43_200,
        86_400,
    ];
    private const MOST_VALUES = 60;
    private const CHART_SECONDS = 10.0;

    public function __construct(
        private MetricCatalogue $catalogue,
        private SeriesIndex $index,
        private Evaluator $evaluator,
        private Checker $checker,
        private WhyNothing $why,
        private UsualBand $usual,
        private Retention $retention,
        private CacheInterface $cache,
        private FewAnswers $few,
        private HeavyWork $heavy,
        private Clock $clock = new Clock(),
    ) {
    }

    #[Route('/api/metrics', methods: ['GET'])]
    public function metrics(): JsonResponse
    {
        return JsonResponse::fromJsonString(
            $this->cache->get('metrics', function (ItemInterface $item): string {
                $item->expiresAfter(self::METRICS_KEPT_SECONDS);

                return json_encode($this->catalogue->all(), JSON_THROW_ON_ERROR);
            }),
        );
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
            // Bounds of buckets are numbers, and +Inf the last of them.
            uksort(
                $counts,
                static fn(int|string $a, int|string $b): int => (is_numeric($a) ? (float) $a : INF) <=>
                (is_numeric($b) ? (float) $b : INF) ?:
                strnatcmp((string) $a, (string) $b),
            );
            $labels[] = new LabelValues(
                name: (string) $name,
                count: count($counts),
                values: array_map(strval(...), array_slice(array_keys($counts), 0, self::MOST_VALUES)),
            );
        }

        return new JsonResponse($labels);
    }

    /** @throws FormulaError where the formula cannot be read or worked out */
    #[Route('/api/chart', methods: ['GET'])]
    public function chart(Request $request): JsonResponse
    {
        [$tree, $first, $to, $step, $from] = $this->asked($request);
        $last = $first + intdiv($to - $first, $step) * $step;
        $most = max(1, min(5_000, $request->query->getInt('lines', self::MOST_LINES)));
        // Those who look at the same within a second share what is drawn; between which instants each of them looks is their own.
        $drawn = $this->few->of(
            'chart',
            Printer::print($tree) . " {$first} {$last} {$step} {$most}",
            self::CHART_KEPT_MS,
            fn(): string => $this->curves($tree, $first, $last, $step, $most, $from),
        );

        return JsonResponse::fromJsonString("{\"from\":{$from},\"to\":{$to}," . substr($drawn, 1));
    }

    /**
     * @return string as JSON
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function curves(Node $tree, int $first, int $last, int $step, int $most, int $from): string
    {
        $unit = $this->checker->unitOf($tree);
        $began = hrtime(true);
        $work = fn(): Lines => $this->evaluator->range($tree, $first, $last, $step);
        $result = $this->evaluator->load($tree, $first, $last, $step)->isHeavy()
            ? $this->heavy->within(self::CHART_SECONDS, $work)
            : $work();
        $lines = [];
        foreach (array_slice($result->lines, 0, $most) as $line) {
            $lines[] = new ChartLine(labels: $line->labels, values: self::drawn($line->values));
        }

        $metrics = array_map(static fn(Select $select): string => $select->metric, Tree::selections($tree));

        return self::numbers(
            new DrawnChart(
                first: $first,
                formula: Printer::print($tree),
                lines: $lines,
                metrics: array_values(array_unique($metrics)),
                more: max(0, count($result->lines) - $most),
                step: $step,
                tookMs: round((hrtime(true) - $began) / 1e6, 1),
                unit: $unit,
                why: $lines === [] ? $this->why->of($tree, $from) : null,
            ),
        );
    }

    /**
     * The usual range of each series of the formula, at the instants of its chart.
     *
     * @throws FormulaError where the formula cannot be read or worked out
     */
    #[Route('/api/chart/usual', methods: ['GET'])]
    public function usual(Request $request): JsonResponse
    {
        [$tree, $first, $to, $step] = $this->asked($request);
        $this->checker->unitOf($tree);
        $last = $first + intdiv($to - $first, $step) * $step;
        // Weeks that are past hardly change, and who looks within a step asks for the same instants.
        $json = $this->few->of(
            'usual',
            Printer::print($tree) . " {$first} {$last} {$step}",
            self::USUAL_KEPT_MS,
            function () use ($tree, $first, $last, $step): string {
                $bands = [];
                $work = fn(): array => $this->usual->of($tree, $first, $last, $step);
                $isHeavy = $this->evaluator->load($tree, $first, $last, $step)->isHeavy();
                foreach (
                    array_slice($isHeavy ? $this->heavy->within(self::CHART_SECONDS, $work) : $work(), 0, self::MOST_LINES) as $key => $band
                ) {
                    $bands[] = new Band(...['key' => (string) $key] + $band);
                }

                return self::numbers(new UsualBands(bands: $bands, first: $first, step: $step));
            },
        );

        return JsonResponse::fromJsonString($json);
    }

    /**
     * @return array{Node, int, int, int, int} formula, first instant, end, step, asked start
     *
     * @throws FormulaError
     */
    private function asked(Request $request): array
    {
        $now = $this->clock->now()->ms;
        $from = $request->query->getInt('from', $now - 3_600_000);
        $to = min($request->query->getInt('to', $now), $now);
        // Many lines are drawn small.
        $points = max(
            2,
            min($request->query->getInt('lines') > self::MOST_LINES ? 100 : 2_000, $request->query->getInt('points', 600)),
        );
        if ($to <= $from) {
            throw Problem::field('from', 'from must lie before to, and before now');
        }
        if ($to - $from > self::LONGEST_SPAN_MS) {
            throw Problem::field('from', 'a chart shows at most 400 days');
        }
        $step = self::step(max(($to - $from) / $points, $this->retention->finestMs($from)));

        return [Parser::parse($request->query->getString('formula')), (intdiv($from, $step) + 1) * $step, $to, $step, $from];
    }

    /**
     * Fourteen digits are more than a chart can show, and written three times as fast as all of them. Exports have all.
     */
    private static function numbers(object $answer): string
    {
        $all = (string) ini_set('serialize_precision', '14');
        try {
            return json_encode($answer, JSON_THROW_ON_ERROR);
        } finally {
            ini_set('serialize_precision', $all);
        }
    }

    /** The least round step that is no shorter; whole multiples of five minutes and of hours can be told from roll-ups. */
    private static function step(float $leastMs): int
    {
        foreach (self::STEPS_SECONDS as $seconds) {
            if ($seconds * 1000 >= $leastMs) {
                return $seconds * 1000;
            }
        }

        return (int) ceil($leastMs / 86_400_000) * 86_400_000;
    }

    /**
     * Charts have no place for what is not finite. A sum is finite only where all its parts are, so most lines are seen to be at once.
     *
     * @param list<float|null> $values
     *
     * @return list<float|null>
     */
    private static function drawn(array $values): array
    {
        return is_finite((float) array_sum($values))
            ? $values
            : array_map(static fn(?float $value): ?float => $value === null || !is_finite($value) ? null : $value, $values);
    }
}

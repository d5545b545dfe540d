<?php

declare(strict_types=1);

namespace Olivine\App\Watch;

use Olivine\App\Platform\Clock;
use Olivine\App\Platform\PartReports;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Scalar;
use Olivine\App\Platform\SetAside;
use Olivine\App\Platform\WorkedOut;
use Olivine\App\Roster\CoverageGaps;
use Olivine\App\Web\Workers;
use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Exposition\TextWriter;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;

/** The figures of Olivine's own parts as OpenMetrics text, for this machine only. A part silent for 30 s is down. */
final readonly class OwnMetrics
{
    private const SILENT_MS = 30_000;
    private const HELP = [
        'process_memory_usage_bytes' => ['bytes', 'Memory of the part'],
        'olivine_scrape_lateness_seconds' => ['seconds', 'How late all but a hundredth of the last scrapes began, at most'],
        'olivine_items_set_aside' => ['', 'What the part could not handle and put aside'],
        'olivine_coverage_gap_hours' => ['hours', 'Of the next 3 days, in which alerts of the path would reach nobody on its first rungs'],
        'olivine_rule_lateness_seconds' => ['seconds', 'From an instant to its evaluation'],
    ];

    public function __construct(private PartReports $parts, private SetAside $aside, private WorkedOut $workedOut, private Clock $clock = new Clock())
    {
    }

    /** A proxy on this machine speaks for the whole world: whatever came through one says so, or is asked by another name. */
    private static function isOfThisMachine(Request $request): bool
    {
        $isProxied = array_any(
            ['X-Forwarded-For', 'X-Forwarded-Host', 'X-Real-IP', 'Forwarded', 'Via'],
            static fn(string $header): bool => $request->headers->has($header),
        );
        $isHere = in_array($request->server->get('REMOTE_ADDR'), ['127.0.0.1', '::1'], true);

        return $isHere && !$isProxied && in_array($request->getHost(), ['127.0.0.1', 'localhost', '[::1]'], true);
    }

    /** @throws Problem 403 for whoever may not read them */
    #[Route('/api/own-metrics', methods: ['GET'])]
    public function metrics(Request $request): Response
    {
        if (!self::isOfThisMachine($request)) {
            throw new Problem(403, 'Own metrics are for this machine only');
        }
        $up = [];
        $families = [];
        foreach ($this->parts->now($this->clock->now()) as $name => $report) {
            $part = ['part' => $name];
            $isAlive = $report->ageMs < self::SILENT_MS;
            $up[] = [$part, $isAlive ? 1 : 0];
            foreach ($isAlive ? get_object_vars($report->figures) : [] as $figure => $value) {
                $families[$figure][] = [$part, Scalar::float($value)];
            }
        }
        // Those who answer this are up.
        $up[] = [['part' => 'web'], 1];
        $families['process_memory_usage_bytes'][] = [['part' => 'web'], Workers::memoryBytes()];
        foreach ($this->aside->counts() as $part => $items) {
            $families['olivine_items_set_aside'][] = [['part' => $part], $items];
        }
        foreach ($this->workedOut->of(CoverageGaps::NAME) as $path => $hours) {
            $families['olivine_coverage_gap_hours'][] = [['path' => (string) $path], Scalar::float($hours)];
        }
        ksort($families);
        $writer = (new TextWriter())->family('olivine_part_up', MetricType::Gauge, '', 'Whether the part reports', $up);
        foreach ($families as $name => $samples) {
            $counts = str_ends_with($name, '_total');
            [$unit, $help] = self::HELP[$name] ?? [
                '',
                ucfirst(str_replace('_', ' ', (string) preg_replace('~^olivine_|_total$~', '', $name))),
            ];
            $writer->family(
                $counts ? substr($name, 0, -6) : $name,
                $counts ? MetricType::Counter : MetricType::Gauge,
                $unit,
                $help,
                $samples,
            );
        }

        return new Response($writer->text(), 200, ['Content-Type' => TextWriter::CONTENT_TYPE]);
    }
}

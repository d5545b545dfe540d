<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\ParameterType;
use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Store\Labels;
use Olivine\App\Store\MetricCatalogue;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\TextReader;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Tree;
use Olivine\Core\Series\LabelSet;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** One target's page: how its scrapes went, what it brings, where that is used, what it raised. */
#[IsGranted('ROLE_VIEWER')]
final readonly class TargetApi
{
    private const LAST_FAULTS = 30;
    private const LAST_INCIDENTS = 20;
    private const RAW_BYTES = 400_000;

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $connection,
        private Credentials $credentials,
        private TargetLimits $limits,
        private MetricCatalogue $catalogue,
        private Reach $reach,
    ) {
    }

    #[Route('/api/targets/{id<\d{1,9}>}/page', methods: ['GET'])]
    public function page(int $id): JsonResponse
    {
        $target = $this->connection->fetchAssociative(
            'SELECT name, (SELECT COUNT(*) FROM scrape_fault WHERE target_id = target.id AND at > ?) AS faults_in_day FROM target
             WHERE id = ? AND removed_at IS NULL',
            [Clock::nowMs() - 86_400_000, $id],
        );
        if ($target === false) {
            throw self::missing($id);
        }

        return new JsonResponse([
            'faults' => array_map(
                static fn(array $row): array => ['at' => (int) $row['at'], 'message' => $row['message']],
                $this->connection->fetchAllAssociative(
                    'SELECT at, message FROM scrape_fault WHERE target_id = ? ORDER BY at DESC LIMIT ' . self::LAST_FAULTS,
                    [$id],
                ),
            ),
            'faultsInDay' => (int) $target['faults_in_day'],
            'metrics' => $this->metrics($id),
            'rules' => $this->rules($id),
            'lateMinutes' => $this->limits->values()[TargetLimit::LateMinutes->value],
            'incidents' => array_map(
                static fn(array $row): array => [
                    'id' => (int) $row['id'],
                    'title' => $row['title'],
                    'severity' => $row['severity'],
                    'status' => $row['status'],
                    'openedAt' => (int) $row['opened_at'],
                    'resolvedAt' => $row['resolved_at'] === null ? null : (int) $row['resolved_at'],
                ],
                $this->connection->fetchAllAssociative(
                    'SELECT id, title, severity, status, opened_at, resolved_at FROM incident WHERE id IN (SELECT incident_id
                     FROM incident_alert WHERE target = ?) ORDER BY opened_at DESC LIMIT ' .
                        self::LAST_INCIDENTS,
                    [$target['name']],
                ),
            ),
        ]);
    }

    /** What it answers right now, as it is, where that are metrics. */
    #[Route('/api/targets/{id<\d{1,9}>}/raw', methods: ['GET'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function raw(int $id): Response
    {
        $scrape = (new Scraper($this->credentials, $this->reach, $this->limits->limits()))->once($this->find($id));
        if ($scrape->fault !== null) {
            throw new Problem(502, $scrape->fault);
        }
        try {
            // What is no metrics is nobody's business here, whatever answered.
            TextReader::read($scrape->body, $scrape->form, $this->limits->limits());
        } catch (BadExposition $error) {
            throw new Problem(502, "What it answers are no metrics: {$error->place()}");
        }

        return new Response(mb_scrub(substr($scrape->body, 0, self::RAW_BYTES)), 200, [
            'Content-Type' => 'text/plain; charset=utf-8',
            'X-Content-Type-Options' => 'nosniff',
            'X-Whole-Bytes' => (string) strlen($scrape->body),
        ]);
    }

    private function find(int $id): Target
    {
        $target = $this->entities->find(Target::class, $id);

        return $target !== null && $target->removedAt === null ? $target : throw self::missing($id);
    }

    private static function missing(int $id): Problem
    {
        return new Problem(404, "There is no target {$id}");
    }

    /** @return list<array{name: string, type: string, unit: string, help: string, series: int}> */
    private function metrics(int $id): array
    {
        $found = [];
        foreach (
            $this->connection->iterateNumeric(
                'SELECT m.name, COUNT(*) FROM series s JOIN metric m ON m.id = s.metric_id WHERE s.target_id = ? GROUP BY m.name ORDER BY m.name',
                [$id],
            ) as [$name, $series]
        ) {
            $about = $this->catalogue->about((string) $name);
            $found[] = [
                'name' => (string) $name,
                'type' => $about['type']->value ?? '',
                'unit' => $about['unit'] ?? '',
                'help' => $about['help'] ?? '',
                'series' => (int) $series,
            ];
        }

        return $found;
    }

    /** @return list<array{id: int, name: string, severity: string}> the rules that look at a series of this target */
    private function rules(int $id): array
    {
        $rules = $this->connection->fetchAllAssociative('SELECT id, name, severity, formula FROM rule ORDER BY name');
        $selections = array_map(self::selections(...), array_column($rules, 'formula'));
        $metrics = array_unique(
            array_map(static fn(Select $selection): string => $selection->metric, array_merge(...$selections)),
        );
        $series = [];
        $found = $this->connection->iterateNumeric(
            'SELECT m.name, s.labels, s.brings_labels, t.name, t.labels FROM metric m JOIN series s ON s.metric_id = m.id
             JOIN target t ON t.id = s.target_id WHERE s.target_id = ? AND m.name IN (?)',
            [$id, $metrics],
            [ParameterType::INTEGER, ArrayParameterType::STRING],
        );
        foreach ($found as [$metric, $own, $brings, $name, $labels]) {
            $series[(string) $metric][] = Labels::laid(
                (string) $own,
                Labels::ofTarget((string) $name, (string) $labels),
                (bool) $brings,
            );
        }
        $looking = array_filter(
            $rules,
            static fn(int $i): bool => array_any(
                $selections[$i],
                static fn(Select $selection): bool => array_any(
                    $series[$selection->metric] ?? [],
                    static fn(LabelSet $labels): bool => $selection->where === null || $selection->where->accepts($labels),
                ),
            ),
            ARRAY_FILTER_USE_KEY,
        );

        return array_values(
            array_map(
                static fn(array $rule): array => [
                    'id' => (int) $rule['id'],
                    'name' => (string) $rule['name'],
                    'severity' => (string) $rule['severity'],
                ],
                $looking,
            ),
        );
    }

    /** @return list<Select> none where the formula has a fault by now */
    private static function selections(string $formula): array
    {
        try {
            return Tree::selections(Parser::parse($formula));
        } catch (FormulaError) {
            return [];
        }
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
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
    ) {
    }

    #[Route('/api/targets/{id<\d{1,9}>}/page', methods: ['GET'])]
    public function page(int $id): JsonResponse
    {
        $target = $this->find($id);

        return new JsonResponse([
            'faults' => array_map(static fn(array $row): array => ['at' => (int) $row['at'], 'message' => $row['message']], $this->connection->fetchAllAssociative('SELECT at, message FROM scrape_fault WHERE target_id = ? ORDER BY at DESC LIMIT ' . self::LAST_FAULTS, [$id])),
            'faultsInDay' => (int) $this->connection->fetchOne('SELECT COUNT(*) FROM scrape_fault WHERE target_id = ? AND at > ?', [$id, Clock::nowMs() - 86_400_000]),
            'metrics' => array_map(static fn(array $row): array => ['name' => $row['name'], 'type' => $row['type'], 'unit' => $row['unit'], 'help' => $row['help'], 'series' => (int) $row['series']], $this->connection->fetchAllAssociative(
                'SELECT m.name, m.type, m.unit, m.help, COUNT(*) AS series FROM series s JOIN metric m ON m.id = s.metric_id WHERE s.target_id = ? GROUP BY m.id ORDER BY m.name',
                [$id],
            )),
            'rules' => $this->rules($id),
            'lateMinutes' => $this->limits->values()[TargetLimit::LateMinutes->value],
            'incidents' => array_map(static fn(array $row): array => ['id' => (int) $row['id'], 'title' => $row['title'], 'severity' => $row['severity'], 'status' => $row['status'], 'openedAt' => (int) $row['opened_at'], 'resolvedAt' => $row['resolved_at'] === null ? null : (int) $row['resolved_at']], $this->connection->fetchAllAssociative(
                'SELECT DISTINCT i.id, i.title, i.severity, i.status, i.opened_at, i.resolved_at FROM incident i JOIN incident_alert a ON a.incident_id = i.id WHERE JSON_VALUE(a.labels, \'$.target\') = ? ORDER BY i.opened_at DESC LIMIT ' . self::LAST_INCIDENTS,
                [$target->name],
            )),
        ]);
    }

    /** What it answers right now, as it is. */
    #[Route('/api/targets/{id<\d{1,9}>}/raw', methods: ['GET'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function raw(int $id): Response
    {
        $scrape = (new Scraper($this->credentials, $this->limits->limits()))->once($this->find($id));
        if ($scrape->fault !== null) {
            throw new Problem(502, $scrape->fault);
        }

        return new Response(mb_scrub(substr($scrape->body, 0, self::RAW_BYTES)), 200, ['Content-Type' => 'text/plain; charset=utf-8', 'X-Content-Type-Options' => 'nosniff', 'X-Whole-Bytes' => (string) strlen($scrape->body)]);
    }

    private function find(int $id): Target
    {
        $target = $this->entities->find(Target::class, $id);

        return $target !== null && $target->removedAt === null ? $target : throw new Problem(404, "There is no target {$id}");
    }

    /** @return list<array{id: int, name: string, severity: string}> the rules that look at a series of this target */
    private function rules(int $id): array
    {
        $series = [];
        foreach ($this->connection->iterateNumeric('SELECT m.name, s.labels FROM series s JOIN metric m ON m.id = s.metric_id WHERE s.target_id = ?', [$id]) as [$metric, $labels]) {
            $series[(string) $metric][] = (string) $labels;
        }
        $rules = [];
        foreach ($this->connection->iterateAssociative('SELECT id, name, severity, formula FROM rule ORDER BY name') as $rule) {
            try {
                $selections = Tree::selections(Parser::parse((string) $rule['formula']));
            } catch (FormulaError) {
                continue;
            }
            foreach ($selections as $selection) {
                if (array_any($series[$selection->metric] ?? [], static fn(string $labels): bool => self::isSelected($selection, $labels))) {
                    $rules[] = ['id' => (int) $rule['id'], 'name' => (string) $rule['name'], 'severity' => (string) $rule['severity']];
                    break;
                }
            }
        }

        return $rules;
    }

    private static function isSelected(Select $selection, string $labels): bool
    {
        /** @var array<string, string> $set */
        $set = $selection->where === null ? [] : json_decode($labels, true, 8, JSON_THROW_ON_ERROR);

        return $selection->where === null || $selection->where->accepts(LabelSet::of($set));
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Watch;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\IncidentStatus;
use Olivine\App\Delivery\IncidentView;
use Olivine\App\Delivery\SharedLook;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\SetAside;
use Olivine\App\Platform\Settings;
use Olivine\App\Platform\WorkedOut;
use Olivine\App\Roster\Rota;
use Olivine\App\Rule\RuleProblem;
use Olivine\App\Rule\RuleProblems;
use Olivine\Core\Roster\Shift;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** All that Watch shows, in one answer. */
#[IsGranted('ROLE_VIEWER')]
final readonly class WatchApi
{
    private const HOUR_MS = 3_600_000;
    private const MOST_PAST = 300;
    /** The hours that the page lets one choose. */
    private const OFFERED_BACK = [6, 24, 72, 168, 336];
    private const OFFERED_AHEAD = [4, 24];

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $connection,
        private IncidentView $view,
        private WorkedOut $workedOut,
        private Rota $rota,
        private Settings $settings,
        private SharedLook $shared,
        private RuleProblems $problems,
        private SetAside $aside,
    ) {
    }

    #[Route('/api/watch', methods: ['GET'])]
    public function watch(Request $request): JsonResponse
    {
        $now = Clock::nowMs();
        $back = max(1, min(24 * 14, $request->query->getInt('back', 6)));
        $ahead = max(1, min(24 * 7, $request->query->getInt('ahead', 4)));

        $look = fn(): array => $this->seen($now, $now - $back * self::HOUR_MS, $now + $ahead * self::HOUR_MS);

        // Spans of somebody's own are shared with nobody, and kept nowhere.
        return in_array($back, self::OFFERED_BACK, true) && in_array($ahead, self::OFFERED_AHEAD, true)
            ? JsonResponse::fromJsonString($this->shared->of("watch.{$back}.{$ahead}", $look))
            : new JsonResponse($look());
    }

    /** @return array<string, mixed> */
    private function seen(int $now, int $from, int $to): array
    {
        $incidents = $this->incidents($from, $now);
        $open = array_values(
            array_filter($incidents, static fn(Incident $one): bool => $one->status !== IncidentStatus::Resolved),
        );
        usort(
            $open,
            static fn(Incident $a, Incident $b): int => [
                $b->status === IncidentStatus::Open,
                $b->severity->rank(),
                $a->openedAt,
            ] <=> [$a->status === IncidentStatus::Open, $a->severity->rank(), $b->openedAt],
        );

        $targets =
            $this->connection->fetchAssociative(
                'SELECT COUNT(*) AS known, COALESCE(SUM(t.paused), 0) AS paused, COALESCE(SUM(NOT t.paused AND s.ok = 1
                 AND s.at >= :now - 3000 * t.interval_seconds), 0) AS on_time, COALESCE(SUM(NOT t.paused AND s.at IS NULL
                 AND t.created_at >= :now - 3000 * t.interval_seconds), 0) AS fresh FROM target t LEFT
                 JOIN target_status s ON s.target_id = t.id WHERE t.removed_at IS NULL',
                ['now' => $now],
            ) ?:
            [];
        $targets = [
            'known' => (int) ($targets['known'] ?? 0),
            'paused' => (int) ($targets['paused'] ?? 0),
            'onTime' => (int) ($targets['on_time'] ?? 0),
            'new' => (int) ($targets['fresh'] ?? 0),
        ];

        return [
            'now' => $now,
            'zone' => $this->settings->zone()->getName(),
            'from' => $from,
            'to' => $to,
            'targets' => $targets,
            'silent' => $targets['onTime'] + $targets['paused'] + $targets['new'] < $targets['known'] ? $this->silent($now) : [],
            'shifts' => array_map(
                fn(Shift $shift): array => [
                    'person' => $this->view->name($shift->person),
                    'next' => $this->view->name($shift->nextPerson),
                    'from' => $shift->startMs,
                    'to' => $shift->endMs,
                ],
                $this->rota->rotation()?->between($from, $to) ?? [],
            ),
            'open' => array_map($this->view->row(...), $open),
            'past' => array_map($this->view->head(...), $incidents),
            'services' => $this->workedOut->of(Services::NAME),
            'forecasts' => array_values(
                array_filter(
                    $this->workedOut->of(Forecasts::NAME),
                    static fn(mixed $one): bool => is_array($one) && $one['at'] > $now && $one['at'] <= $to,
                ),
            ),
            'building' => $this->building(),
            'parts' => $this->parts($now),
            'broken' => array_map(
                static fn(RuleProblem $one): array => [
                    'ruleId' => $one->ruleId,
                    'rule' => $one->rule,
                    'since' => $one->sinceMs,
                    'tries' => $one->tries,
                    'message' => $one->message,
                ],
                $this->problems->now(),
            ),
            'aside' => $this->aside->now(),
        ];
    }

    /** @return list<Incident> the newest first: all that are not resolved, and what was open since then */
    private function incidents(int $fromMs, int $nowMs): array
    {
        /** @var list<Incident> $found */
        $found = $this->entities
            ->createQueryBuilder()
            ->select('i')
            ->from(Incident::class, 'i')
            ->where('i.status <> :resolved OR (i.openedAt <= :now AND (i.resolvedAt IS NULL OR i.resolvedAt >= :from))')
            ->setParameter('resolved', IncidentStatus::Resolved->value)
            ->setParameter('from', $fromMs)
            ->setParameter('now', $nowMs)
            ->addSelect('CASE WHEN i.resolvedAt IS NULL THEN 0 ELSE 1 END AS HIDDEN done')
            ->orderBy('done')
            ->addOrderBy('i.openedAt', 'DESC')
            ->setMaxResults(self::MOST_PAST)
            ->getQuery()
            ->getResult();
        usort($found, static fn(Incident $a, Incident $b): int => $b->openedAt <=> $a->openedAt);

        return $found;
    }

    /** @return list<array<string, mixed>> targets that do not report, with the reason */
    private function silent(int $now): array
    {
        return $this->connection->fetchAllAssociative(
            'SELECT t.id, t.name, s.message, s.ok_at AS okAt FROM target t LEFT JOIN target_status s ON s.target_id = t.id
             WHERE t.removed_at IS NULL AND NOT t.paused AND (s.ok = 0 OR COALESCE(s.at, t.created_at) < ? - 3000 * t.interval_seconds)
             ORDER BY t.name LIMIT 20',
            [$now],
        );
    }

    /** @return list<array<string, mixed>> */
    private function building(): array
    {
        return array_map(
            static fn(array $row): array => [
                'ruleId' => (int) $row['rule_id'],
                'rule' => (string) $row['name'],
                'raisesAt' => (int) $row['since_at'] + 1000 * (int) $row['hold_seconds'],
            ],
            $this->connection->fetchAllAssociative(
                "SELECT a.rule_id, r.name, a.since_at, r.hold_seconds FROM alert a JOIN rule r ON r.id = a.rule_id
                 WHERE a.phase = 'building' AND r.enabled ORDER BY a.since_at LIMIT 10",
            ),
        );
    }

    /** @return list<array<string, mixed>> */
    private function parts(int $now): array
    {
        return array_map(static function (array $row) use ($now): array {
            $figures = json_decode((string) $row['figures'], true);

            return ['name' => $row['name'], 'ageMs' => $now - (int) $row['at'], 'figures' => $figures];
        }, $this->connection->fetchAllAssociative('SELECT name, at, figures FROM part_status ORDER BY name'));
    }
}

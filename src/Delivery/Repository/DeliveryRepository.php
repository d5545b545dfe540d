<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\DBAL\LockMode;
use Doctrine\ORM\Query;
use Doctrine\ORM\QueryBuilder;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Delivery\Answer\AwayChannel;
use Olivine\App\Delivery\DeliveryStatus;
use Olivine\App\Delivery\Entity\Delivery;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\HeldSlots;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Delivery\Wishes;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * Messages to people. Each is planned under a key of (incident, kind, round, person, channel): planning twice plans once.
 * Each step of its way is one statement that says from what to what, so that nobody takes it twice.
 *
 * @extends ServiceEntityRepository<Delivery>
 */
final class DeliveryRepository extends ServiceEntityRepository
{
    /** Of so many that went out at the first attempt the usual time is told; longer than a minute is not usual. */
    private const RECENT = 50;
    private const UNUSUAL_MS = 60_000;
    private const NIGHT = [22, 6];
    private const MOST_FOR_A_MEDIAN = 500;

    /** What is being tried anew waits as well. */
    private const NOT_THERE_YET = [DeliveryStatus::Planned->value, DeliveryStatus::Sending->value];

    public function __construct(ManagerRegistry $registry, private readonly Database $database)
    {
        parent::__construct($registry, Delivery::class);
    }

    /** What was withdrawn before it was sent, as somebody had it in hand then, is planned again under the key that it had. */
    public function plan(
        Incident $incident,
        MessageKind $kind,
        int $round,
        int $person,
        string $channel,
        Instant $dueAt,
        Instant $now,
    ): void {
        $incidentId = $incident->id();
        $key = sprintf('incident-%d.%s.%d.%d.%s', $incidentId, $kind->value, $round, $person, bin2hex(random_bytes(6)));
        $this->database->insertNew(
            'delivery',
            [
                'incident_id',
                'kind',
                'round',
                'person_id',
                'channel',
                'due_at',
                'status',
                'attempts',
                'next_at',
                'answer',
                'message_key',
                'rehearsed',
            ],
            [
                [
                    $incidentId,
                    $kind->value,
                    $round,
                    $person,
                    $channel,
                    $dueAt->ms,
                    DeliveryStatus::Planned->value,
                    0,
                    $now->later($dueAt)->ms,
                    '',
                    $key,
                    $incident->rehearsedWith === null ? 0 : 1,
                ],
            ],
        );
        $this->createQueryBuilder('d')
            ->update()
            ->set('d.status', ':planned')
            ->set('d.nextAt', ':now')
            ->set('d.answer', ':nothing')
            ->where('d.incidentId = :incident AND d.kind = :kind AND d.round = :round AND d.personId = :person')
            ->andWhere('d.channel = :channel AND d.status = :dropped')
            ->setParameter('planned', DeliveryStatus::Planned->value)
            ->setParameter('now', $now->later($dueAt)->ms)
            ->setParameter('nothing', '')
            ->setParameter('incident', $incidentId)
            ->setParameter('kind', $kind->value)
            ->setParameter('round', $round)
            ->setParameter('person', $person)
            ->setParameter('channel', $channel)
            ->setParameter('dropped', DeliveryStatus::Dropped->value)
            ->getQuery()
            ->execute();
    }

    /** @return list<Delivery> what tells of the raise, rung by rung */
    public function raisedOf(int $incidentId): array
    {
        return $this->all($this->raises($incidentId)->getQuery());
    }

    /**
     * Within a transaction: whoever sends may claim none of them until it is over, so who was told and who will not be is
     * decided once.
     *
     * @return list<Delivery> what tells of the raise, rung by rung
     */
    public function raisedHeldOf(int $incidentId): array
    {
        return $this->all($this->raises($incidentId)->getQuery()->setLockMode(LockMode::PESSIMISTIC_WRITE));
    }

    /**
     * @param list<int> $incidentIds
     *
     * @return array<int, list<int>> incident → the rungs that were climbed; what was withdrawn is still to be told
     */
    public function climbed(array $incidentIds): array
    {
        /** @var list<array{incidentId: int, round: int}> $rows */
        $rows = $this->createQueryBuilder('d')
            ->select('d.incidentId', 'd.round')
            ->distinct()
            ->where('d.incidentId IN (:incidents) AND d.kind = :raised AND d.status <> :dropped')
            ->setParameter('incidents', $incidentIds)
            ->setParameter('raised', MessageKind::Raised->value)
            ->setParameter('dropped', DeliveryStatus::Dropped->value)
            ->getQuery()
            ->getArrayResult();
        $climbed = [];
        foreach ($rows as ['incidentId' => $incident, 'round' => $round]) {
            $climbed[$incident][] = $round;
        }

        return $climbed;
    }

    /** What was planned of the raise and tried by nobody yet is not sent any more. */
    public function drop(int $incidentId, string $why): void
    {
        $this->createQueryBuilder('d')
            ->update()
            ->set('d.status', ':dropped')
            ->set('d.answer', ':why')
            ->where('d.incidentId = :incident AND d.kind = :raised AND d.status = :planned AND d.attempts = 0')
            ->setParameter('dropped', DeliveryStatus::Dropped->value)
            ->setParameter('why', $why)
            ->setParameter('incident', $incidentId)
            ->setParameter('raised', MessageKind::Raised->value)
            ->setParameter('planned', DeliveryStatus::Planned->value)
            ->getQuery()
            ->execute();
    }

    /**
     * @param list<string> $ways
     *
     * @return list<Delivery> by these ways, of the incidents in these slots, what may go for longest first
     */
    public function due(HeldSlots $slots, array $ways, Instant $now, int $most): array
    {
        return $this->all(
            $this->within($slots, $ways, $this->createQueryBuilder('d'))
                ->andWhere('d.status = :planned AND d.nextAt <= :now')
                ->setParameter('planned', DeliveryStatus::Planned->value)
                ->setParameter('now', $now->ms)
                ->orderBy('d.nextAt')
                ->addOrderBy('d.dueAt')
                ->setMaxResults($most)
                ->getQuery(),
        );
    }

    /**
     * One sender holds these slots: what another one claimed is claimed by nobody now.
     *
     * @param list<string> $ways
     */
    public function takeClaimsOver(HeldSlots $slots, array $ways): void
    {
        $this->within($slots, $ways, $this->createQueryBuilder('d')->update())
            ->set('d.status', ':planned')
            ->andWhere('d.status = :sending')
            ->setParameter('planned', DeliveryStatus::Planned->value)
            ->setParameter('sending', DeliveryStatus::Sending->value)
            ->getQuery()
            ->execute();
    }

    /** @return bool whether it was there to be claimed */
    public function claim(Delivery $delivery): bool
    {
        return 1 === $this->createQueryBuilder('d')
            ->update()
            ->set('d.status', ':sending')
            ->set('d.attempts', ':attempts')
            ->where('d.id = :id AND d.status = :planned')
            ->setParameter('sending', DeliveryStatus::Sending->value)
            ->setParameter('attempts', $delivery->attempts + 1)
            ->setParameter('id', $delivery->id())
            ->setParameter('planned', DeliveryStatus::Planned->value)
            ->getQuery()
            ->execute();
    }

    /** It is told no more. */
    public function withdraw(Delivery $delivery, string $why): void
    {
        $this->change($delivery, ['status' => DeliveryStatus::Dropped->value, 'answer' => $why]);
    }

    /**
     * Somebody was told by one way: what waits to tell the same by another is told no more.
     *
     * @param list<string> $keep ways that are to tell it too
     */
    public function dropOtherWays(int $incidentId, MessageKind $kind, int $round, int $person, string $way, array $keep): void
    {
        $this->createQueryBuilder('d')
            ->update()
            ->set('d.status', ':dropped')
            ->set('d.answer', ':why')
            ->where('d.incidentId = :incident AND d.kind = :kind AND d.round = :round AND d.personId = :person')
            ->andWhere('d.channel NOT IN (:but) AND d.status = :planned')
            ->setParameter('dropped', DeliveryStatus::Dropped->value)
            ->setParameter('why', "told by {$way} meanwhile")
            ->setParameter('incident', $incidentId)
            ->setParameter('kind', $kind->value)
            ->setParameter('round', $round)
            ->setParameter('person', $person)
            ->setParameter('but', [$way, ...$keep])
            ->setParameter('planned', DeliveryStatus::Planned->value)
            ->getQuery()
            ->execute();
    }

    /** A channel works again: what waits for another try through it waits no longer. */
    public function wake(string $channel, Instant $now): void
    {
        $this->createQueryBuilder('d')
            ->update()
            ->set('d.nextAt', ':now')
            ->where('d.channel = :channel AND d.status = :planned AND d.nextAt > :now AND d.dueAt <= :now AND d.withheldAt IS NULL')
            ->setParameter('now', $now->ms)
            ->setParameter('channel', $channel)
            ->setParameter('planned', DeliveryStatus::Planned->value)
            ->getQuery()
            ->execute();
    }

    public function markSent(Delivery $delivery, Instant $at, string $answer): void
    {
        $this->change($delivery, ['status' => DeliveryStatus::Sent->value, 'sentAt' => $at->ms, 'answer' => $answer]);
    }

    public function postpone(Delivery $delivery, Instant $until, string $answer): void
    {
        $this->change($delivery, ['status' => DeliveryStatus::Planned->value, 'nextAt' => $until->ms, 'answer' => $answer]);
    }

    public function giveUp(Delivery $delivery, string $why): void
    {
        $this->change($delivery, ['status' => DeliveryStatus::Failed->value, 'answer' => $why]);
    }

    /**
     * @param list<string> $ways
     *
     * @return int how many of the incidents in these slots wait or are under way
     */
    public function waiting(HeldSlots $slots, array $ways): int
    {
        return (int) $this->within($slots, $ways, $this->createQueryBuilder('d')->select('COUNT(d.id)'))
            ->andWhere('d.status IN (:waiting)')
            ->setParameter('waiting', self::NOT_THERE_YET)
            ->getQuery()
            ->getSingleScalarResult();
    }

    /** @return int how many wait to go this way, or are under way */
    public function waitingFor(string $way, Instant $now): int
    {
        return (int) $this->createQueryBuilder('d')
            ->select('COUNT(d.id)')
            ->where('d.channel = :way AND d.status IN (:waiting) AND d.dueAt <= :now AND d.withheldAt IS NULL')
            ->setParameter('way', $way)
            ->setParameter('waiting', self::NOT_THERE_YET)
            ->setParameter('now', $now->ms)
            ->getQuery()
            ->getSingleScalarResult();
    }

    /** @return list<AwayChannel> ways that did not take what waits now, and why */
    public function away(): array
    {
        /** @var list<array{way: string, since: int|string, waiting: int}> $rows */
        $rows = $this->createQueryBuilder('d')
            ->select('d.channel AS way', 'MIN(d.dueAt) AS since', 'COUNT(d.id) AS waiting')
            ->where("d.status IN (:waiting) AND d.answer <> '' AND d.withheldAt IS NULL")
            ->setParameter('waiting', self::NOT_THERE_YET)
            ->groupBy('d.channel')
            ->getQuery()
            ->getArrayResult();

        $away = [];
        foreach ($rows as ['way' => $way, 'since' => $since, 'waiting' => $waiting]) {
            $since = Instant::ofMs((int) $since);
            $away[] = new AwayChannel($way, $this->lastRefusal($way), $since, $this->tookAnySince($way, $since), $waiting);
        }

        return $away;
    }

    private function tookAnySince(string $way, Instant $since): bool
    {
        return $this->sent($way, $since)->select('d.id')->setMaxResults(1)->getQuery()->getArrayResult() !== [];
    }

    /** Why the newest of what waits was not taken; of what was not tried yet, what it waits for. */
    private function lastRefusal(string $way): string
    {
        $newest = $this->createQueryBuilder('d')
            ->where("d.channel = :way AND d.status IN (:waiting) AND d.answer <> ''")
            ->setParameter('way', $way)
            ->setParameter('waiting', self::NOT_THERE_YET)
            ->orderBy('d.attempts', 'DESC')
            ->addOrderBy('d.id', 'DESC')
            ->setMaxResults(1)
            ->getQuery();

        return ($this->all($newest)[0] ?? null)->answer ?? '';
    }

    /** @return int how many went this way since then */
    public function sentSince(string $way, Instant $since): int
    {
        return (int) $this->sent($way, $since)->select('COUNT(d.id)')->getQuery()->getSingleScalarResult();
    }

    /**
     * What came due before anybody could know of it is no matter of the way it went: of what was found in the past, the time counts from
     * when it was planned.
     *
     * @return Duration|null from due to taken, the middle of the newest that went this way since then at the first attempt
     */
    public function medianSince(string $way, Instant $since): ?Duration
    {
        /** @var list<array{nextAt: Instant, sentAt: Instant}> $rows */
        $rows = $this->sent($way, $since)
            ->select('d.nextAt', 'd.sentAt')
            ->andWhere('d.attempts <= 1')
            ->orderBy('d.sentAt', 'DESC')
            ->setMaxResults(self::MOST_FOR_A_MEDIAN)
            ->getQuery()
            ->getArrayResult();
        $took = array_map(static fn(array $row): int => $row['sentAt']->since($row['nextAt'])->ms, $rows);
        sort($took);

        return $took === [] ? null : Duration::ofMs($took[intdiv(count($took), 2)]);
    }

    private function sent(string $way, Instant $since): QueryBuilder
    {
        return $this->createQueryBuilder('d')
            ->where('d.channel = :way AND d.status = :sent AND d.sentAt >= :since AND d.rehearsed = false')
            ->setParameter('way', $way)
            ->setParameter('sent', DeliveryStatus::Sent->value)
            ->setParameter('since', $since->ms);
    }

    /** @return list<Delivery> that were given up, newest first */
    public function failedSince(Instant $since, int $most): array
    {
        return $this->all(
            $this->createQueryBuilder('d')
                ->where('d.status = :failed AND d.dueAt > :since AND d.rehearsed = false')
                ->setParameter('failed', DeliveryStatus::Failed->value)
                ->setParameter('since', $since->ms)
                ->orderBy('d.dueAt', 'DESC')
                ->setMaxResults($most)
                ->getQuery(),
        );
    }

    /**
     * @param int|null $before only those that are older than this one
     *
     * @return list<Delivery> newest first
     */
    public function newest(?int $person, ?string $channel, ?int $before, int $most): array
    {
        $query = $this->createQueryBuilder('d')->orderBy('d.id', 'DESC')->setMaxResults($most);
        foreach (['d.personId = :person' => $person, 'd.channel = :channel' => $channel, 'd.id < :before' => $before] as $only => $value) {
            if ($value !== null) {
                $query->andWhere($only)->setParameter(substr((string) strrchr($only, ':'), 1), $value);
            }
        }

        return $this->all($query->getQuery());
    }

    /**
     * @param list<string> $ways      that there are
     * @param Instant      $dueBefore what is newer may wait for a way that is newer than this list
     *
     * @return list<Delivery> of the incidents in these slots that wait for a way that is none any more
     */
    public function orphans(HeldSlots $slots, array $ways, Instant $dueBefore, int $most): array
    {
        return $this->all(
            $this->createQueryBuilder('d')
                ->where('MOD(d.incidentId, :count) IN (:slots) AND d.channel NOT IN (:ways) AND d.status IN (:waiting)')
                ->andWhere('d.dueAt < :dueBefore')
                ->setParameter('dueBefore', $dueBefore->ms)
                ->setParameter('count', $slots->part->slots())
                ->setParameter('slots', $slots->numbers())
                ->setParameter('ways', $ways)
                ->setParameter('waiting', self::NOT_THERE_YET)
                ->setMaxResults($most)
                ->getQuery(),
        );
    }

    /** @return list<Instant> when somebody was sent something by a way since then, the newest first; what went together once */
    public function sentTo(int $person, string $channel, Instant $since): array
    {
        $times = $this->createQueryBuilder('d')
            ->select('DISTINCT d.sentAt')
            ->where('d.personId = :person AND d.channel = :channel AND d.status = :sent AND d.sentAt > :since AND d.rehearsed = false')
            ->setParameter('person', $person)
            ->setParameter('channel', $channel)
            ->setParameter('sent', DeliveryStatus::Sent->value)
            ->setParameter('since', $since->ms)
            ->orderBy('d.sentAt', 'DESC')
            ->getQuery()
            ->getSingleColumnResult();

        return array_values(array_map(static fn(mixed $at): Instant => $at instanceof Instant ? $at : Instant::ofMs(Scalar::int($at)), $times));
    }

    /** What waits to tell of the raise waits no longer where the incident is too grave for that by now. */
    public function hasten(int $incidentId, Severity $severity, Instant $now): void
    {
        $isGrave = !Severity::Major->isWorseThan($severity);
        $whom = [...$isGrave ? ['d.withheldAt IS NOT NULL'] : [], ...Wishes::passes($severity) ? ['d.dueAt > :now'] : []];
        if ($whom === []) {
            return;
        }
        $this->createQueryBuilder('d')
            ->update()
            ->set('d.nextAt', ':now')
            ->set('d.dueAt', ':now')
            ->set('d.withheldAt', ':never')
            ->where('d.incidentId = :incident AND d.kind = :raised AND d.status = :planned AND (' . implode(' OR ', $whom) . ')')
            ->setParameter('now', $now->ms)
            ->setParameter('never', null)
            ->setParameter('incident', $incidentId)
            ->setParameter('raised', MessageKind::Raised->value)
            ->setParameter('planned', DeliveryStatus::Planned->value)
            ->getQuery()
            ->execute();
    }

    /** One of too many: it waits, and is told together with others. */
    public function withhold(Delivery $delivery, Instant $now, Instant $until, string $why): void
    {
        $this->change($delivery, ['withheldAt' => $now->ms, 'nextAt' => $until->ms, 'answer' => $why]);
    }

    /** @return list<Delivery> what else waits for the same person by the same way to be told together, and is due */
    public function dueBeside(Delivery $delivery, HeldSlots $slots, Instant $now, int $most): array
    {
        return $this->all(
            $this->within($slots, [$delivery->channel], $this->createQueryBuilder('d'))
                ->andWhere('d.personId = :person AND d.id <> :id AND d.status = :planned AND d.nextAt <= :now AND d.rehearsed = false')
                ->andWhere('d.withheldAt IS NOT NULL OR d.kind IN (:copies)')
                ->setParameter('person', $delivery->personId)
                ->setParameter('id', $delivery->id())
                ->setParameter('planned', DeliveryStatus::Planned->value)
                ->setParameter('now', $now->ms)
                ->setParameter('copies', [MessageKind::CopyOpened->value, MessageKind::CopyWorse->value, MessageKind::CopyResolved->value])
                ->orderBy('d.dueAt')
                ->setMaxResults($most)
                ->getQuery(),
        );
    }

    /** @return bool whether it had been given up */
    public function again(Delivery $delivery, Instant $now): bool
    {
        return 1 === $this->createQueryBuilder('d')
            ->update()
            ->set('d.status', ':planned')
            ->set('d.nextAt', ':now')
            ->set('d.dueAt', ':now')
            ->set('d.answer', ':nothing')
            ->where('d.id = :id AND d.status = :failed')
            ->setParameter('planned', DeliveryStatus::Planned->value)
            ->setParameter('now', $now->ms)
            ->setParameter('nothing', '')
            ->setParameter('id', $delivery->id())
            ->setParameter('failed', DeliveryStatus::Failed->value)
            ->getQuery()
            ->execute();
    }

    /** @return Duration|null from when a message was due until the channel took it; null where none went out yet */
    public function usualSend(): ?Duration
    {
        /** @var list<Delivery> $recent */
        $recent = $this->findBy(
            ['status' => DeliveryStatus::Sent, 'attempts' => 1, 'round' => 1, 'rehearsed' => false],
            ['id' => 'DESC'],
            self::RECENT,
        );
        $took = array_filter(
            array_map(static fn(Delivery $one): int => ($one->sentAt ?? $one->dueAt)->since($one->dueAt)->ms, $recent),
            static fn(int $ms): bool => $ms < self::UNUSUAL_MS,
        );

        return $took === [] ? null : Duration::ofMs(intdiv(array_sum($took), count($took)));
    }

    /** @return array<int, int> rule → messages that went out at night, of incidents that it opened */
    public function sentAtNightByRule(Instant $since, \DateTimeZone $zone): array
    {
        $rows = $this->database->connection->iterateNumeric(
            'SELECT (SELECT a.rule_id FROM incident_alert a WHERE a.incident_id = d.incident_id ORDER BY a.raised_at LIMIT 1), d.sent_at
             FROM delivery d WHERE d.kind = ? AND d.status = ? AND d.sent_at > ? AND d.rehearsed = 0',
            [MessageKind::Raised->value, DeliveryStatus::Sent->value, $since->ms],
        );
        $sent = [];
        foreach ($rows as [$rule, $at]) {
            $hour = (int) Scalar::instant($at)->in($zone)->format('G');
            if ($hour >= self::NIGHT[0] || $hour < self::NIGHT[1]) {
                $sent[Scalar::int($rule)] = ($sent[Scalar::int($rule)] ?? 0) + 1;
            }
        }

        return $sent;
    }

    /** @return list<Delivery> that told one person of something raised or worse and were sent, the newest first */
    public function rungTo(int $person, Instant $since, int $most): array
    {
        /** @var list<Delivery> */
        return $this->createQueryBuilder('d')
            ->where('d.personId = :person AND d.kind IN (:kinds) AND d.sentAt >= :since AND d.status = :sent AND d.rehearsed = false')
            ->orderBy('d.sentAt', 'DESC')
            ->setParameter('person', $person)
            ->setParameter('kinds', [MessageKind::Raised->value, MessageKind::Worse->value])
            ->setParameter('since', $since->ms)
            ->setParameter('sent', DeliveryStatus::Sent->value)
            ->setMaxResults($most)
            ->getQuery()
            ->getResult();
    }

    /**
     * @param list<string> $ways
     *
     * @return array{Instant, string}|null when something was not taken last, and what was said; null where all was
     */
    public function lastFailureTo(int $person, array $ways, Instant $since): ?array
    {
        /** @var list<array{dueAt: Instant, answer: string}> $rows */
        $rows = $this->createQueryBuilder('d')
            ->select('d.dueAt', 'd.answer')
            ->where('d.personId = :person AND d.channel IN (:ways) AND d.dueAt >= :since AND d.status <> :sent AND d.attempts > 0')
            ->orderBy('d.dueAt', 'DESC')
            ->setParameter('person', $person)
            ->setParameter('ways', $ways)
            ->setParameter('since', $since->ms)
            ->setParameter('sent', DeliveryStatus::Sent->value)
            ->setMaxResults(1)
            ->getQuery()
            ->getArrayResult();

        return $rows === [] ? null : [$rows[0]['dueAt'], $rows[0]['answer']];
    }

    /** @return list<array{int, Instant}> who was told of something raised or worse, and when it was sent, in the order of time */
    public function rung(Instant $from, Instant $to): array
    {
        /** @var list<array{personId: int, sentAt: Instant}> $rows */
        $rows = $this->createQueryBuilder('d')
            ->select('d.personId', 'd.sentAt')
            ->where('d.kind IN (:kinds) AND d.sentAt >= :from AND d.sentAt < :to AND d.status = :sent AND d.rehearsed = false')
            ->orderBy('d.sentAt')
            ->setParameter('kinds', [MessageKind::Raised->value, MessageKind::Worse->value])
            ->setParameter('from', $from->ms)
            ->setParameter('to', $to->ms)
            ->setParameter('sent', DeliveryStatus::Sent->value)
            ->getQuery()
            ->getArrayResult();

        return array_map(static fn(array $row): array => [$row['personId'], $row['sentAt']], $rows);
    }

    /** @param array<string, int|string> $values field → what it is from now on */
    private function change(Delivery $delivery, array $values): void
    {
        $update = $this->createQueryBuilder('d')->update()->where('d.id = :id')->setParameter('id', $delivery->id());
        foreach ($values as $field => $value) {
            $update->set("d.{$field}", ":{$field}")->setParameter($field, $value);
        }
        $update->getQuery()->execute();
    }

    /** @param list<string> $ways */
    private function within(HeldSlots $slots, array $ways, QueryBuilder $asked): QueryBuilder
    {
        return $asked
            ->where('MOD(d.incidentId, :count) IN (:slots) AND d.channel IN (:ways)')
            ->setParameter('ways', $ways)
            ->setParameter('count', $slots->part->slots())
            ->setParameter('slots', $slots->numbers());
    }

    private function raises(int $incidentId): QueryBuilder
    {
        return $this->createQueryBuilder('d')
            ->where('d.incidentId = :incident AND d.kind = :raised')
            ->setParameter('incident', $incidentId)
            ->setParameter('raised', MessageKind::Raised->value)
            ->orderBy('d.round');
    }

    /** @return list<Delivery> as they are by now, also those that were read before */
    private function all(Query $query): array
    {
        /** @var list<Delivery> */
        return $query->setHint(Query::HINT_REFRESH, true)->getResult();
    }
}

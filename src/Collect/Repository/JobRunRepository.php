<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Repository;

use Doctrine\Bundle\DoctrineBundle\Repository\ServiceEntityRepository;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Collect\Entity\JobRun;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Job\JobRun as Run;
use Olivine\Core\Job\RunOutcome;
use Olivine\Core\Time\Instant;

/** @extends ServiceEntityRepository<JobRun> */
final class JobRunRepository extends ServiceEntityRepository
{
    private const DELETED_AT_ONCE = 5_000;

    public function __construct(ManagerRegistry $registry)
    {
        parent::__construct($registry, JobRun::class);
    }

    /**
     * What a judgement needs, without entities: it is asked of every job again and again.
     *
     * @return list<Run> the one that began last first
     */
    public function last(int $targetId, int $most): array
    {
        return $this->runs('target_id = ? ORDER BY began_at DESC, id DESC', [$targetId], $most);
    }

    /** @return list<Run> in the order in which they began: from an instant on, and what ran then; where there are more than so many, the newest */
    public function since(int $targetId, Instant $from, int $most): array
    {
        $last = $this->runs('target_id = ? AND (began_at >= ? OR ended_at >= ?) ORDER BY began_at DESC, id DESC', [$targetId, $from->ms, $from->ms], $most);

        return array_reverse($last);
    }

    public function ofKey(int $targetId, string $key): ?JobRun
    {
        return $this->findOneBy(['targetId' => $targetId, 'runKey' => $key]);
    }

    /** The one that began last of those that have not said that they ended. */
    public function open(int $targetId): ?JobRun
    {
        return $this->findOneBy(['targetId' => $targetId, 'endedAt' => null], ['beganAt' => 'DESC', 'id' => 'DESC']);
    }

    public function begunSince(int $targetId, Instant $since): int
    {
        return Scalar::int($this->getEntityManager()->getConnection()->fetchOne(
            'SELECT COUNT(*) FROM job_run WHERE target_id = ? AND began_at > ?',
            [$targetId, $since->ms],
        ));
    }

    public function forgetBefore(Instant $before): void
    {
        $connection = $this->getEntityManager()->getConnection();
        do {
            $gone = $connection->executeStatement('DELETE FROM job_run WHERE began_at < ? LIMIT ' . self::DELETED_AT_ONCE, [$before->ms]);
        } while ($gone === self::DELETED_AT_ONCE);
    }

    /** What is more than may be kept of one job, and what more than its last ones printed. */
    public function forgetBeyond(int $runs, int $outputs): void
    {
        $connection = $this->getEntityManager()->getConnection();
        $many = $connection->fetchFirstColumn('SELECT target_id FROM job_run GROUP BY target_id HAVING COUNT(*) > ?', [min($runs, $outputs)]);
        $nth = 'SELECT began_at FROM job_run WHERE target_id = ? ORDER BY began_at DESC LIMIT 1 OFFSET ';
        foreach (Scalar::ints($many) as $job) {
            $oldest = $connection->fetchOne($nth . $outputs, [$job]);
            if ($oldest !== false) {
                $connection->executeStatement('UPDATE job_run SET output = NULL WHERE target_id = ? AND began_at <= ? AND output IS NOT NULL', [$job, $oldest]);
            }
            $oldest = $connection->fetchOne($nth . $runs, [$job]);
            if ($oldest !== false) {
                $connection->executeStatement('DELETE FROM job_run WHERE target_id = ? AND began_at <= ?', [$job, $oldest]);
            }
        }
    }

    /**
     * @param list<int> $values
     *
     * @return list<Run>
     */
    private function runs(string $where, array $values, int $most): array
    {
        $rows = $this->getEntityManager()->getConnection()->fetchAllNumeric(
            "SELECT id, began_at, ended_at, outcome, exit_code FROM job_run WHERE {$where} LIMIT {$most}",
            $values,
        );

        return array_map(static fn(array $row): Run => new Run(
            Scalar::int($row[0]),
            Scalar::instant($row[1]),
            $row[2] === null ? null : Scalar::instant($row[2]),
            $row[3] === null ? null : RunOutcome::from(Scalar::text($row[3])),
            $row[4] === null ? null : Scalar::int($row[4]),
        ), $rows);
    }
}

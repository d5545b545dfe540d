<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\ParameterType;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Time\Instant;

/** When nobody expected readings of a target, and by whose word. Rules end quietly there what they had raised. */
final readonly class TargetRests
{
    private const LONGEST_WORDS = 200;

    public function __construct(private Database $database)
    {
    }

    /**
     * Brings the rests of these targets in line with what they are now.
     *
     * @param list<Target> $targets
     */
    public function follow(array $targets, string $by, Instant $now): void
    {
        if ($targets === []) {
            return;
        }
        $connection = $this->database->connection;
        $resting = $this->resting($connection, $targets);
        $new = [];
        $over = [];
        foreach ($targets as $target) {
            $words = match (true) {
                $target->removedAt !== null => 'removed',
                $target->paused => 'paused',
                default => null,
            };
            if ($words === null) {
                $over[] = $target->id();
            } elseif (!isset($resting[$target->id()])) {
                $new[] = [
                    $target->id(),
                    $now->ms,
                    null,
                    mb_substr($by === '' ? $words : "{$words} by {$by}", 0, self::LONGEST_WORDS),
                ];
            }
        }
        $this->database->insertNew('target_rest', ['target_id', 'from_at', 'to_at', 'words'], $new);
        if ($over !== []) {
            $connection->executeStatement(
                'UPDATE target_rest SET to_at = ? WHERE to_at IS NULL AND target_id IN (?)',
                [$now->ms, $over],
                [ParameterType::INTEGER, ArrayParameterType::INTEGER],
            );
        }
    }

    /**
     * @param list<Target> $targets
     *
     * @return array<int, true>
     */
    private function resting(Connection $connection, array $targets): array
    {
        $ids = array_map(static fn(Target $target): int => $target->id(), $targets);
        $resting = $connection
            ->executeQuery(
                'SELECT target_id FROM target_rest WHERE to_at IS NULL AND target_id IN (?)',
                [$ids],
                [ArrayParameterType::INTEGER],
            )
            ->fetchFirstColumn();

        return array_fill_keys(array_map(Scalar::int(...), $resting), true);
    }
}

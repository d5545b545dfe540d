<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Series\LabelSet;

/**
 * A target that is called otherwise takes its alerts along: what was raised under its old name and labels goes on under
 * the new ones, and what it raised in the past is found under these too; so do known faults that were found of it. Within the transaction of the change.
 *
 * By example, of broker-north with `site="skarn"`, renamed broker-3: the alert of `{queue="boarding", site="skarn",
 * target="broker-north"}` is that of `{queue="boarding", site="skarn", target="broker-3"}` from then on. A label that is
 * new on the target reaches alerts that carried all of its labels before; those of a group keep the labels of the group.
 */
final readonly class LabelChanges
{
    public function __construct(private Connection $connection)
    {
    }

    /**
     * @param array<string, string> $before what the target laid over its series, its name as `target` among them
     * @param array<string, string> $after
     */
    public function follow(array $before, array $after): void
    {
        if ($before === $after) {
            return;
        }
        $this->move('alert', 'rule_id', $before, $after, '1 = 1');
        $this->move('transition', 'rule_id, at, to_phase', $before, $after, 'taken = 0');
        $this->move(
            'incident_alert',
            'incident_id, rule_id',
            $before,
            $after,
            'target = ' . $this->connection->quote($before['target'] ?? ''),
        );
        $this->connection->executeStatement('UPDATE incident_alert SET target = ? WHERE target = ?', [
            mb_substr($after['target'] ?? '', 0, 200),
            $before['target'] ?? '',
        ]);
        // What was gone under the new name is another's, and in the way.
        $this->connection->executeStatement(
            "DELETE FROM finding WHERE gone_at IS NOT NULL AND JSON_VALUE(labels, '$.target') = ?",
            [$after['target'] ?? ''],
        );
        $this->move('finding', 'recipe, finding_key', $before, $after, 'gone_at IS NULL');
        // Whoever evaluates these rules now looks at them anew.
        $this->connection->executeStatement('UPDATE rule_progress SET turn = turn + 1');
    }

    /**
     * @param array<string, string> $before
     * @param array<string, string> $after
     */
    private function move(string $table, string $key, array $before, array $after, string $condition): void
    {
        $named = 'JSON_VALUE(labels, \'$.target\') = ?';
        foreach (
            $this->connection->fetchAllAssociative(
                "SELECT {$key}, labels, labels_hash FROM {$table} WHERE {$condition} AND {$named}",
                [$before['target'] ?? ''],
            ) as $row
        ) {
            $labels = self::relabelled(AlertKey::labels(Scalar::text($row['labels'])), $before, $after);
            $where = array_diff_key($row, ['labels' => 0]);
            $this->connection->update(
                $table,
                ['labels' => AlertKey::json($labels), 'labels_hash' => AlertKey::hash($labels)],
                $where,
            );
        }
    }

    /**
     * @param array<string, string> $before
     * @param array<string, string> $after
     */
    private static function relabelled(LabelSet $labels, array $before, array $after): LabelSet
    {
        $carriedAll = array_intersect_assoc($before, $labels->labels) === $before;
        $kept = array_diff_assoc($labels->labels, $before);
        $new = $carriedAll ? $after : array_intersect_key($after, array_intersect_assoc($labels->labels, $before));

        return LabelSet::of($new + $kept);
    }
}

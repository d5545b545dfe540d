<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Exposition\Sample;
use Olivine\Core\Formula\MetricUnit;

/** Gives each series of a target its slot: pages of at most 256, filled in the order in which series appear. */
final class SeriesRegister
{
    public const PAGE_SIZE = 256;

    /** @var array<string, int> metric name → id */
    private array $metrics = [];

    public function __construct(private readonly Database $database)
    {
    }

    /** Whether readings of this sample are kept; creation times of counters are read and let go. */
    public static function keeps(Sample $sample): bool
    {
        return !str_ends_with($sample->name, '_created') || $sample->family->name === $sample->name;
    }

    /** @param int $place from which it was asked; 0 where that says nothing about it */
    public static function identity(Sample $sample, int $place = 0): string
    {
        return substr(hash('sha256', $sample->name . '{' . $sample->labels->key() . ($place === 0 ? '' : "}{$place}")), 0, 32);
    }

    /**
     * @param bool $own   those of Olivine's own readings of the target, or those the target brings
     * @param int  $place from which it is asked
     *
     * @return array<string, Slot> identity → slot
     */
    public function known(int $targetId, bool $own = false, int $place = 0): array
    {
        $slots = [];
        foreach (
            $this->database->connection->fetchAllAssociative(
                'SELECT s.id, s.page, s.slot, s.identity FROM series s JOIN page p ON p.id = s.page WHERE s.target_id = ? AND p.own = ? AND p.place = ?',
                [$targetId, (int) $own, $place],
            ) as $row
        ) {
            $slots[Scalar::text($row['identity'])] = new Slot(
                Scalar::int($row['id']),
                Scalar::int($row['page']),
                Scalar::int($row['slot']),
            );
        }

        return $slots;
    }

    /** @return int how many series of the target are newer than this */
    public function addedSince(int $targetId, int $sinceMs): int
    {
        return Scalar::int(
            $this->database->connection->fetchOne('SELECT COUNT(*) FROM series WHERE target_id = ? AND first_at > ?', [
                $targetId,
                $sinceMs,
            ]),
        );
    }

    /**
     * @param list<Sample> $samples         those without a slot yet
     * @param bool         $own             Olivine's own readings of the target, on a page of their own
     * @param bool         $bringsItsLabels whether the sample's labels go before the target's: imported readings come from elsewhere
     * @param int          $place           from which the target was asked: each has pages of its own
     *
     * @return array<string, Slot> all slots of the target
     */
    public function register(
        Target $target,
        array $samples,
        int $atMs,
        bool $own = false,
        bool $bringsItsLabels = false,
        int $place = 0,
    ): array {
        return $this->database->transaction(function (Connection $connection) use (
            $target,
            $samples,
            $atMs,
            $own,
            $bringsItsLabels,
            $place,
        ): array {
            // What was made in a transaction that was taken back is not there.
            $this->metrics = [];
            // One after the other, so that two who bring new series of one target at once see each other's.
            $connection->fetchOne('SELECT 1 FROM target WHERE id = ? FOR UPDATE', [$target->id()]);
            $known = $this->known($target->id(), $own, $place);
            [$page, $used] = $this->openPage($target->id(), $own, $place);
            $rows = [];
            foreach ($samples as $sample) {
                $identity = self::identity($sample, $place);
                if (isset($known[$identity])) {
                    continue;
                }
                if ($used >= self::PAGE_SIZE) {
                    [$page, $used] = [$this->newPage($target->id(), $own, $place), 0];
                }
                $labels = json_encode($sample->labels->labels, JSON_THROW_ON_ERROR | JSON_FORCE_OBJECT);
                $rows[] = [
                    $target->id(),
                    $this->metric($sample),
                    $page,
                    $used++,
                    $labels,
                    (int) $bringsItsLabels,
                    $identity,
                    $atMs,
                ];
                $known[$identity] = new Slot(0, $page, $used - 1);
            }
            $this->database->insertNew(
                'series',
                ['target_id', 'metric_id', 'page', 'slot', 'labels', 'brings_labels', 'identity', 'first_at'],
                $rows,
            );

            return $this->known($target->id(), $own, $place);
        });
    }

    /** @return array{int, int} the page with room and how many of its slots are taken */
    private function openPage(int $targetId, bool $own, int $place): array
    {
        $connection = $this->database->connection;
        $page = $connection->fetchOne('SELECT MAX(id) FROM page WHERE target_id = ? AND own = ? AND place = ?', [$targetId, (int) $own, $place]);
        if ($page === null || $page === false) {
            return [$this->newPage($targetId, $own, $place), 0];
        }
        $used = $connection->fetchOne('SELECT COALESCE(MAX(slot) + 1, 0) FROM series WHERE page = ?', [$page]);

        return [Scalar::int($page), Scalar::int($used)];
    }

    private function newPage(int $targetId, bool $own, int $place): int
    {
        $this->database->connection->insert('page', ['target_id' => $targetId, 'own' => (int) $own, 'place' => $place]);

        return (int) $this->database->connection->lastInsertId();
    }

    private function metric(Sample $sample): int
    {
        if (isset($this->metrics[$sample->name])) {
            return $this->metrics[$sample->name];
        }
        $type = $sample->family->type ?? MetricType::Unknown;
        $this->database->insertNew(
            'metric',
            ['name', 'type', 'unit', 'help'],
            [
                [
                    $sample->name,
                    $type->value,
                    MetricUnit::ofName($sample->name, $sample->family->unit ?? ''),
                    $sample->family->help ?? '',
                ],
            ],
        );

        // Another may have made it since this transaction began to look; only a locking read sees that.
        $id = $this->database->connection->fetchOne('SELECT id FROM metric WHERE name = ? LOCK IN SHARE MODE', [$sample->name]);

        return $this->metrics[$sample->name] = Scalar::int(
            $id !== false ? $id : throw new \LogicException("The metric {$sample->name} was made and is not there"),
        );
    }
}

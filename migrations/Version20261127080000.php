<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;
use Olivine\App\Collect\BadAddress;
use Olivine\App\Collect\TargetAddress;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Formula\MetricUnit;
use Olivine\Core\Series\LabelSet;

/**
 * Series keep the labels that their text brings, and those of their target are laid over them when they are read; what
 * cannot be evaluated, came late, rests or was set aside is kept; alerts end in more ways than one.
 */
final class Version20261127080000 extends AbstractMigration
{
    private const SERIES_A_TIME = 5_000;

    public function isTransactional(): bool
    {
        return false;
    }

    public function up(Schema $schema): void
    {
        foreach (TableFile::FirmGround->statements() as $statement) {
            $this->addSql($statement);
        }
    }

    public function postUp(Schema $schema): void
    {
        $this->unlayLabels();
        $this->bindCredentials();
        foreach ($this->connection->fetchAllAssociative("SELECT id, name FROM metric WHERE unit = ''") as $metric) {
            $unit = MetricUnit::ofName(Scalar::text($metric['name']));
            if ($unit !== '') {
                $this->connection->executeStatement('UPDATE metric SET unit = ? WHERE id = ?', [$unit, $metric['id']]);
            }
        }
    }

    /** Credentials go to the servers they go to today, and to no other until somebody enters them again. */
    private function bindCredentials(): void
    {
        $ofGroup = [];
        foreach (
            $this->connection->fetchAllAssociative('SELECT id, url, group_id, inherits, credential FROM target') as $target
        ) {
            $origin = self::origin(Scalar::text($target['url']));
            if ($origin === null) {
                continue;
            }
            if ($target['credential'] !== null) {
                $this->connection->update(
                    'target',
                    ['credential_origins' => json_encode([$origin], JSON_THROW_ON_ERROR)],
                    ['id' => $target['id']],
                );
            }
            if ($target['group_id'] !== null && str_contains(Scalar::text($target['inherits']), '"credential"')) {
                $ofGroup[Scalar::int($target['group_id'])][$origin] = true;
            }
        }
        foreach ($ofGroup as $group => $origins) {
            $this->connection->update(
                'target_group',
                ['credential_origins' => json_encode(array_keys($origins), JSON_THROW_ON_ERROR)],
                ['id' => $group],
            );
        }
    }

    private static function origin(string $url): ?string
    {
        try {
            return TargetAddress::of($url)->origin();
        } catch (BadAddress) {
            return null;
        }
    }

    /** What stood in a series had its target's labels in it; its identity tells which of them the text itself brought. */
    private function unlayLabels(): void
    {
        $laid = [];
        foreach ($this->connection->fetchAllAssociative('SELECT id, name, labels FROM target') as $target) {
            /** @var array<string, string> $labels */
            $labels = json_decode(Scalar::text($target['labels']), true, 8, JSON_THROW_ON_ERROR);
            $laid[Scalar::int($target['id'])] = $labels + ['target' => Scalar::text($target['name'])];
        }
        $after = 0;
        do {
            $rows = $this->connection->fetchAllAssociative(
                'SELECT s.id, s.target_id, s.labels, s.identity, m.name FROM series s JOIN metric m ON m.id = s.metric_id WHERE s.id > ? ORDER BY s.id LIMIT ' .
                    self::SERIES_A_TIME,
                [$after],
            );
            $this->connection->executeStatement('START TRANSACTION');
            foreach ($rows as $row) {
                $after = Scalar::int($row['id']);
                /** @var array<string, string> $stored */
                $stored = json_decode(Scalar::text($row['labels']), true, 8, JSON_THROW_ON_ERROR);
                $brings = self::identity(Scalar::text($row['name']), $stored) === $row['identity'];
                $own = $brings ? $stored : array_diff_key($stored, $laid[Scalar::int($row['target_id'])] ?? []);
                $json = json_encode($own, JSON_THROW_ON_ERROR | JSON_FORCE_OBJECT);
                $this->connection->executeStatement('UPDATE series SET labels = ?, brings_labels = ? WHERE id = ?', [
                    $json,
                    (int) $brings,
                    $after,
                ]);
            }
            $this->connection->executeStatement('COMMIT');
        } while (count($rows) === self::SERIES_A_TIME);
    }

    /** @param array<string, string> $labels */
    private static function identity(string $name, array $labels): string
    {
        return substr(hash('sha256', $name . '{' . LabelSet::of($labels)->key()), 0, 32);
    }
}

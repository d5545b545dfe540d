<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Rosters; the turns that people took by their places become the first of them, as they were. */
final class Version20261128130000 extends AbstractMigration
{
    private const NAME = 'turns';

    public function up(Schema $schema): void
    {
        foreach (TableFile::Rosters->statements() as $statement) {
            $this->addSql($statement);
        }
        $this->takeOver();
        foreach (TableFile::RotaPlaces->statements() as $statement) {
            $this->addSql($statement);
        }
    }

    private function takeOver(): void
    {
        $people = $this->connection->fetchAllKeyValue(
            'SELECT email, id FROM person WHERE rota_place IS NOT NULL AND barred_at IS NULL AND removed_at IS NULL ORDER BY rota_place, id',
        );
        if ($people === []) {
            return;
        }
        $kept = $this->connection->fetchOne('SELECT value FROM setting WHERE name = ?', ['instance']);
        $settings = is_string($kept) ? json_decode($kept, true) : null;
        $zone = is_array($settings) ? $settings['zone'] ?? null : null;
        $given = $_SERVER['OLIVINE_ZONE'] ?? null;
        $definition = [
            'name' => self::NAME,
            'zone' => is_string($zone) ? $zone : (is_string($given) && $given !== '' ? $given : 'UTC'),
            'rotations' => [
                [
                    'name' => self::NAME,
                    'people' => array_keys($people),
                    'from' => '2026-01-05',
                    'change' => ['everyDays' => 1, 'weekday' => 0, 'at' => ['06:00', '18:00']],
                    'hours' => null,
                ],
            ],
        ];
        $this->addSql('INSERT INTO roster (id, name, place) VALUES (1, ?, 1)', [self::NAME]);
        $this->addSql(
            "INSERT INTO roster_revision (roster_id, number, definition, people, reason, at, holds_from)
             VALUES (1, 1, ?, ?, 'who took turns until now', 0, 0)",
            [json_encode($definition, JSON_THROW_ON_ERROR), json_encode($people, JSON_THROW_ON_ERROR)],
        );
    }
}

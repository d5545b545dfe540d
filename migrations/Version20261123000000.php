<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** The first tables: people, targets, readings, rules, incidents, deliveries. */
final class Version20261123000000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (explode(";\n", (string) file_get_contents(__DIR__ . '/first_tables.sql')) as $statement) {
            if (trim($statement) !== '') {
                $this->addSql(trim($statement));
            }
        }
    }
}

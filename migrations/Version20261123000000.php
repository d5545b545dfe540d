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
        foreach (TableFile::FirstTables->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Mutes and maintenance windows, and how long an incident is hushed by them. */
final class Version20261128180000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::Mutes->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Rules that come from files, drafts of rules, and whether past alerts were worth it. */
final class Version20261127180000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::RulesKept->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** A rule is a list of revisions, and what it raised names its revision for ever. */
final class Version20261127150000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::Revisions->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

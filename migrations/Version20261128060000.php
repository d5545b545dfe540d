<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What people set up of who hears is kept in revisions, with a draft; how each person wants to be told. */
final class Version20261128060000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::Plans->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

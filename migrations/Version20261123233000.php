<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** A block may hold a whole day, or readings of every millisecond of its span. */
final class Version20261123233000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::LongRuns->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

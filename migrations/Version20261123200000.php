<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Answers that take long are worked out beforehand; series are counted from an index alone; how the last scrapes went stands with a target's status. */
final class Version20261123200000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::WorkedOut->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

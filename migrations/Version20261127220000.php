<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What went out when, for the list of rules that is asked every few seconds. */
final class Version20261127220000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::DeliveriesSent->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

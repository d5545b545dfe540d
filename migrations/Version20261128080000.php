<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What happened to alerts is read in the order of time, however much there is of it. */
final class Version20261128080000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::WhenItHappened->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What sources hand in themselves, until they hand in something else. */
final class Version20261129060000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::Pushed->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

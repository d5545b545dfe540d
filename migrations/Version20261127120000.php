<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** The work of a part is held slot by slot, so that several copies share it. */
final class Version20261127120000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::Slots->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

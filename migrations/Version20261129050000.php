<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Stations: programs that ask checks from other places, and what they bring until it is taken over. */
final class Version20261129050000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::Stations->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

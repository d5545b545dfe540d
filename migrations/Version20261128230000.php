<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** The view from outside: checks, the places they are asked from, and what is kept of their failures. */
final class Version20261128230000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::Checks->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

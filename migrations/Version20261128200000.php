<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What is prepared before the night: templates, rehearsals, actions, browsers that are told. */
final class Version20261128200000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::Prepared->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

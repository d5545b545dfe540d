<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** By which recipe a target came to be watched. */
final class Version20261129120000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::Recipes->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

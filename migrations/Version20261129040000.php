<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Jobs that say themselves when they run. */
final class Version20261129040000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::Jobs->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

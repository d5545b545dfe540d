<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Webhooks become one kind of channel among others. */
final class Version20261128170000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::Channels->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Other programs that are told of incidents, by names of their own. */
final class Version20261128020000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::Webhooks->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

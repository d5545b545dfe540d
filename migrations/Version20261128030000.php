<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** For how long somebody has an incident in hand, and how often its ladder began anew. */
final class Version20261128030000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::HeldUntil->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

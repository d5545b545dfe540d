<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** When nobody collected: what rules miss of that span is nobody's fault but ours. */
final class Version20261127200000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::Standstills->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

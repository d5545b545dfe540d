<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Which incidents a target had is asked with its page. */
final class Version20261125170000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::AlertTarget->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

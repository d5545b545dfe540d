<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Which path answers for an incident; so far there was one. */
final class Version20261128040000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::Paths->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Answers that take long are worked out beforehand. */
final class Version20261123200000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('CREATE TABLE worked_out (name VARCHAR(60) PRIMARY KEY, at BIGINT NOT NULL, answer LONGTEXT NOT NULL) ENGINE=InnoDB DEFAULT CHARACTER SET utf8mb4');
    }
}

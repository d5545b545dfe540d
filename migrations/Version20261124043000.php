<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** How often a rule raised lately is asked with every list of rules. */
final class Version20261124043000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        foreach (TableFile::WhatRaised->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

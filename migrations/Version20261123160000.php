<?php

declare(strict_types=1);

namespace Olivine\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;
use Olivine\App\Platform\Scalar;

/** Day partitions, checksums and roll-ups in the store; groups, credentials and removal of targets. */
final class Version20261123160000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        // Scrape rows were deflated before; now they are as they are.
        foreach ($this->connection->fetchAllNumeric('SELECT page, at, packed FROM scrape_row') as [$page, $at, $packed]) {
            $bytes = @gzinflate(Scalar::text($packed));
            if ($bytes !== false) {
                $this->connection->executeStatement('UPDATE scrape_row SET packed = ? WHERE page = ? AND at = ?', [
                    $bytes,
                    $page,
                    $at,
                ]);
            }
        }
        foreach (TableFile::StoreTiers->statements() as $statement) {
            $this->addSql($statement);
        }
    }
}

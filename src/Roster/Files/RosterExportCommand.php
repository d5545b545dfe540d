<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Files;

use Olivine\App\Roster\KeptRosters;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:rosters:export', 'Writes the rosters as they are set up to go on')]
final class RosterExportCommand extends Command
{
    public function __construct(private readonly KeptRosters $kept)
    {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $output->write(RosterFileWriter::text($this->kept->newest()), false, OutputInterface::OUTPUT_RAW);

        return self::SUCCESS;
    }
}

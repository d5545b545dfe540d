<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Files;

use Olivine\App\Roster\Definition\RosterDefinition;
use Olivine\App\Roster\KeptRosters;
use Olivine\App\Roster\Repository\RosterRepository;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:rosters:export', 'Writes the rosters as they are set up to go on, with the covers and absences to come')]
final class RosterExportCommand extends Command
{
    public function __construct(
        private readonly KeptRosters $kept,
        private readonly RosterRepository $rosters,
        private readonly ComingSpans $spans,
    ) {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $written = [];
        foreach ($this->kept->newest() as $name => $one) {
            $roster = $this->rosters->named($name);
            [$covers, $away] = $roster === null ? [[], []] : $this->spans->of($roster, $one->zone);
            $written[$name] = new RosterDefinition($one->name, $one->zone, $one->rotations, $covers, $away);
        }
        $output->write(RosterFileWriter::text($written), false, OutputInterface::OUTPUT_RAW);

        return self::SUCCESS;
    }
}

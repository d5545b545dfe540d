<?php

declare(strict_types=1);

namespace Olivine\App\Demo;

use Olivine\Core\Exposition\BadExposition;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:demo:load', 'Loads past readings from standard input')]
final class LoadHistoryCommand extends Command
{
    public function __construct(private readonly HistoryLoader $loader)
    {
        parent::__construct();
    }

    /** @throws BadExposition where the text is none, naming the line */
    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $output->writeln((string) $this->loader->load(STDIN));

        return Command::SUCCESS;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Supervise;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:supervise', 'Starts the parts of this instance and keeps them running')]
final class SuperviseCommand extends Command
{
    public function __construct(private readonly Supervisor $supervisor)
    {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->supervisor->run();
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Job;

use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\Collect\SourceKind;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\ConsoleOutputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:job:address', 'Where a job of this instance reports')]
final class AddressCommand extends Command
{
    public function __construct(private readonly TargetRepository $targets, private readonly JobKeys $keys)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('name', InputArgument::REQUIRED, 'as its page is called');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $name = $input->getArgument('name');
        $job = is_string($name) ? $this->targets->named($name) : null;
        $errors = $output instanceof ConsoleOutputInterface ? $output->getErrorOutput() : $output;
        if ($job === null || $job->removedAt !== null || $job->kind !== SourceKind::Job) {
            $errors->writeln('olivine run: there is no such job in this instance; add it under Fleet, Jobs');

            return Command::FAILURE;
        }
        $output->writeln($this->keys->address($job));

        return Command::SUCCESS;
    }
}

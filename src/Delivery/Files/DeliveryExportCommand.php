<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

use Olivine\App\Delivery\PlanInService;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:delivery:export', 'Writes who hears, as it is in service, to standard output')]
final class DeliveryExportCommand extends Command
{
    public function __construct(private readonly PlanInService $plan)
    {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $output->write(PlanFileWriter::text($this->plan->plan()->definition), false, OutputInterface::OUTPUT_RAW);

        return self::SUCCESS;
    }
}

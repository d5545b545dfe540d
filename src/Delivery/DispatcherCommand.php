<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Platform\Database;
use Olivine\App\Platform\Part;
use Olivine\App\Platform\PartName;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:dispatcher', 'Opens incidents and tells people')]
final class DispatcherCommand extends Command
{
    public function __construct(private readonly Database $database, private readonly Dispatcher $dispatcher)
    {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return (new Part($this->database, PartName::Dispatcher, $output))->run($this->dispatcher);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\App\Platform\Database;
use Olivine\App\Platform\Part;
use Olivine\App\Platform\PartName;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:keeper', 'Seals old readings into blocks, lets go of what is past its time, and works out what is slow to answer')]
final class KeeperCommand extends Command
{
    public function __construct(private readonly Database $database, private readonly Keeper $keeper)
    {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return (new Part($this->database, PartName::Keeper, $output))->run($this->keeper);
    }
}

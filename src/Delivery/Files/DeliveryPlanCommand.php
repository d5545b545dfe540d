<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

use Olivine\App\Files\BadFiles;
use Olivine\App\Files\FilesGiven;
use Olivine\App\Files\Kinds;
use Olivine\App\Files\NoSuchFile;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Scalar;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:delivery:plan', 'Says what differs between files and who hears in service')]
final class DeliveryPlanCommand extends Command
{
    private const JSON = JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PRETTY_PRINT;

    public function __construct(private readonly PlanFileReader $reader, private readonly PlanPlanner $planner)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('dir', InputArgument::IS_ARRAY | InputArgument::REQUIRED, 'Files, or folders with all that is YAML in them')
            ->addOption('whole', null, InputOption::VALUE_NONE, 'Of each kind that stands in them these files are all that there is: others go')
            ->addOption('json', null, InputOption::VALUE_NONE);
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        try {
            $files = FilesGiven::read(array_map(Scalar::text(...), array_values((array) $input->getArgument('dir'))), Kinds::ALL);
            $planned = $this->planner->plan($this->reader->whole($files), $input->getOption('whole') === true);
        } catch (NoSuchFile|BadFiles|Problem $error) {
            $output->writeln($error->getMessage(), OutputInterface::OUTPUT_RAW);

            return self::FAILURE;
        }
        $words = $input->getOption('json') === true
            ? json_encode(['differing' => $planned->changes, 'changedByHand' => $planned->hand], self::JSON)
            : PlannedWords::of($planned);
        $output->writeln($words, OutputInterface::OUTPUT_RAW);

        return $planned->changes === [] ? self::SUCCESS : self::INVALID;
    }
}

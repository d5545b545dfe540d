<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\App\Files\BadFiles;
use Olivine\App\Files\FilesGiven;
use Olivine\App\Files\Kinds;
use Olivine\App\Files\NoSuchFile;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Formula\FormulaError;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/** Says what an apply of these files would do. 0 nothing, 1 a fault, 2 differences. */
#[AsCommand('olivine:rules:plan', 'Says what differs between rule files and the rules in service')]
final class RulesPlanCommand extends Command
{
    public function __construct(
        private readonly RulesOfFiles $files,
        private readonly RulePlanner $planner,
        private readonly PlanReplays $replays,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('dir', InputArgument::IS_ARRAY | InputArgument::REQUIRED, 'Files, or folders with all that is YAML in them')
            ->addOption('whole', null, InputOption::VALUE_NONE, 'These files are all the rules that there are: others go')
            ->addOption('no-replay', null, InputOption::VALUE_NONE, 'Without what each change would have raised in the last week')
            ->addOption('json', null, InputOption::VALUE_NONE);
    }

    /** @throws FormulaError where the formula cannot be read or worked out */
    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        try {
            $read = $this->files->whole(FilesGiven::read(array_map(Scalar::text(...), array_values((array) $input->getArgument('dir'))), Kinds::ALL));
            $planned = $this->planner->plan($read, $input->getOption('whole') === true);
        } catch (NoSuchFile|BadFiles|Problem $error) {
            $output->writeln($error->getMessage(), OutputInterface::OUTPUT_RAW);

            return self::FAILURE;
        }
        $meanings = $input->getOption('no-replay') === true ? [] : $this->replays->of($planned);
        $output->write(
            $input->getOption('json') === true ? PlanWords::json($planned, $meanings) : PlanWords::text($planned, $meanings),
            false,
            OutputInterface::OUTPUT_RAW,
        );

        return PlanWords::differing($planned) === [] ? self::SUCCESS : self::INVALID;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Setup;

use Olivine\App\Delivery\Files\PlannedWords;
use Olivine\App\Files\BadFiles;
use Olivine\App\Files\FilesGiven;
use Olivine\App\Files\Kinds;
use Olivine\App\Files\NoSuchFile;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Scalar;
use Olivine\App\Rule\Files\PlanReplays;
use Olivine\App\Rule\Files\PlanWords;
use Olivine\App\Rule\Files\RulePlanner;
use Olivine\App\Rule\Files\RulesOfFiles;
use Olivine\Core\Formula\FormulaError;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:plan', 'Says what differs between files and what is set up')]
final class PlanCommand extends Command
{
    public function __construct(
        private readonly RulesOfFiles $rules,
        private readonly RulePlanner $rulePlanner,
        private readonly PlanReplays $replays,
        private readonly PlannedFiles $planned,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('dir', InputArgument::IS_ARRAY | InputArgument::REQUIRED, 'Files, or folders with all that is YAML in them')
            ->addOption('no-replay', null, InputOption::VALUE_NONE, 'Without what each change of a rule would have raised in the last week');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        try {
            $files = FilesGiven::read(array_map(Scalar::text(...), array_values((array) $input->getArgument('dir'))), Kinds::ALL);
            $rules = $this->rulePlanner->plan($this->rules->whole($files), false);
            [$rosters, $hears, $parts] = $this->planned->of($files);
            $meanings = $input->getOption('no-replay') === true ? [] : $this->replays->of($rules);
        } catch (NoSuchFile|BadFiles|FormulaError|Problem $error) {
            $output->writeln($error->getMessage(), OutputInterface::OUTPUT_RAW);

            return self::FAILURE;
        }
        $output->write(PlanWords::text($rules, $meanings), false, OutputInterface::OUTPUT_RAW);
        $output->writeln(PlannedWords::of($hears), OutputInterface::OUTPUT_RAW);
        $output->write($rosters->words() . $parts->words(), false, OutputInterface::OUTPUT_RAW);
        $isNothing = $rosters->isNothing() && $parts->isNothing();

        return PlanWords::differing($rules) === [] && $hears->changes === [] && $isNothing ? self::SUCCESS : self::INVALID;
    }
}

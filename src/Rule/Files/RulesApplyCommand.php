<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\App\Files\Applying;
use Olivine\App\Files\ApplyOptions;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/** Puts the rules of these files into service: all of them or none. 0 done, 1 a fault or a refusal, 2 a wrong call. */
#[AsCommand('olivine:rules:apply', 'Puts the rules of these files into service')]
final class RulesApplyCommand extends Command
{
    public function __construct(
        private readonly RulesOfFiles $files,
        private readonly RulePlanner $planner,
        private readonly RuleApplier $applier,
        private readonly Applying $applying,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        ApplyOptions::addTo($this);
        $this->addOption('whole', null, InputOption::VALUE_NONE, 'These files are all the rules that there are: others go');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->applying->by(function (array $files, ApplyOptions $said) use ($input): string {
            $planned = $this->planner->plan($this->files->whole($files), $input->getOption('whole') === true);
            $this->applier->apply($planned, $said->keep, $said->author, $said->reason);

            return PlanWords::text($planned, []);
        }, $input, $output);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Files\Applying;
use Olivine\App\Files\ApplyOptions;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:delivery:apply', 'Puts what these files say of who hears into service')]
final class DeliveryApplyCommand extends Command
{
    public function __construct(
        private readonly PlanFileReader $reader,
        private readonly PlanPlanner $planner,
        private readonly PlanApplier $applier,
        private readonly Applying $applying,
        private readonly EntityManagerInterface $entities,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        ApplyOptions::addTo($this);
        $this->addOption('whole', null, InputOption::VALUE_NONE, 'Of each kind that stands in them these files are all that there is: others go');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->applying->by(function (array $files, ApplyOptions $said) use ($input): string {
            $planned = $this->planner->plan($this->reader->whole($files), $input->getOption('whole') === true);
            PlanApplier::refuse($planned, $said->keep);
            $this->entities->wrapInTransaction(fn() => $this->applier->apply($planned, $said->keep, $said->author, $said->reason));

            return PlannedWords::of($planned);
        }, $input, $output);
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\App\Platform\CalledFrom;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Exposition\BadExposition;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:import', 'Takes readings with timestamps from a file')]
final class ImportCommand extends Command
{
    public function __construct(private readonly ReadingImport $import)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument(
            'file',
            InputArgument::REQUIRED,
            'OpenMetrics text with timestamps, or CSV with the columns time, metric, value and one a label',
        )
            ->addOption('target', null, InputOption::VALUE_REQUIRED, 'The target that new series shall belong to', 'imported')
            ->addOption('as', null, InputOption::VALUE_REQUIRED, 'openmetrics or csv; else by the ending of the file');
    }

    /** @throws BadExposition where the text is none, naming the line */
    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $path = Scalar::text($input->getArgument('file'));
        $form = ImportForm::tryFrom(
            Scalar::text($input->getOption('as') ?? (str_ends_with(strtolower($path), '.csv') ? 'csv' : 'openmetrics')),
        );
        $file = @fopen(CalledFrom::path($path), 'r');
        if ($form === null || $file === false) {
            $output->writeln($form === null ? '--as must be openmetrics or csv' : "{$path} cannot be read");

            return 2;
        }
        try {
            $target = $this->import->targetNamed(Scalar::text($input->getOption('target')));
        } catch (Problem $problem) {
            $output->writeln("--{$problem->getMessage()}");

            return 2;
        }
        $report = $this->import->take(
            $file,
            $form,
            $target,
            static fn(ImportReport $report) => $output->writeln("{$report->readings} readings …"),
        );
        $output->writeln(
            sprintf(
                '%d readings taken, %d were there already, %d new series, %d refused',
                $report->readings,
                $report->already,
                $report->newSeries,
                $report->refused,
            ),
        );
        foreach ($report->reasons as $reason) {
            $output->writeln("  {$reason}", OutputInterface::OUTPUT_RAW);
        }

        return $report->refused === 0 ? 0 : 1;
    }
}

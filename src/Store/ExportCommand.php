<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Series\DamagedBlock;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:export', 'Writes readings of this instance to standard output')]
final class ExportCommand extends Command
{
    public function __construct(private readonly ReadingExport $export, private readonly Clock $clock = new Clock())
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument(
            'formula',
            InputArgument::REQUIRED,
            'A metric, with or without where, gives its readings; any other formula is worked out',
        )
            ->addOption('from', null, InputOption::VALUE_REQUIRED, 'A time, such as 2026-11-23T03:00:00Z or "-1 hour"', '-1 hour')
            ->addOption('to', null, InputOption::VALUE_REQUIRED, 'A time', 'now')
            ->addOption('step', null, InputOption::VALUE_REQUIRED, 'Seconds between instants')
            ->addOption('as', null, InputOption::VALUE_REQUIRED, 'csv, jsonl or openmetrics', 'csv');
    }

    /** @throws DamagedBlock where what is stored is not what was written */
    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $form = ExportForm::tryFrom(Scalar::text($input->getOption('as')));
        $from = strtotime(Scalar::text($input->getOption('from')));
        $to = strtotime(Scalar::text($input->getOption('to')));
        if ($form === null || $from === false || $to === false || $from >= $to) {
            $output->writeln(
                $form === null
                    ? '--as must be csv, jsonl or openmetrics'
                    : '--from and --to must be times, --from the earlier one',
            );

            return 2;
        }
        try {
            $step = $input->getOption('step');
            foreach (
                $this->export->text(
                    Parser::parse(Scalar::text($input->getArgument('formula'))),
                    $from * 1000,
                    min($to * 1000, $this->clock->now()->ms),
                    $step === null ? null : max(1, Scalar::int($step)) * 1000,
                    $form,
                ) as $piece
            ) {
                $output->write($piece, false, OutputInterface::OUTPUT_RAW);
            }
        } catch (FormulaError|TooMuchToRead $error) {
            fwrite(STDERR, $error->getMessage() . "\n");

            return 1;
        }

        return 0;
    }
}

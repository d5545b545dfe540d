<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\DependencyInjection\Attribute\AutowireIterator;

/** Measures on this machine, each speed beside a baseline of the same run. */
#[AsCommand('olivine:bench', 'Measures; one figure a line')]
final class BenchCommand extends Command
{
    /** @var array<string, Measure> */
    private array $measures = [];

    /** @param iterable<Measure> $measures */
    public function __construct(#[AutowireIterator(Measure::class)] iterable $measures)
    {
        foreach ($measures as $measure) {
            $this->measures[$measure->name()] = $measure;
        }
        ksort($this->measures);
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument(
            'names',
            InputArgument::IS_ARRAY,
            implode(', ', array_keys($this->measures)) . '; all where none is named',
        );
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        /** @var list<string> $names */
        $names = $input->getArgument('names') ?: array_keys($this->measures);
        $unknown = array_diff($names, array_keys($this->measures));
        if ($unknown !== []) {
            $output->writeln(
                'There is no measure ' . implode(', ', $unknown) . '; there are ' . implode(', ', array_keys($this->measures)),
            );

            return 2;
        }
        foreach ($names as $name) {
            $this->measures[$name]->run(
                static fn(string $figure, float $value, string $unit) => $output->writeln(
                    rtrim(sprintf('%s: %s %s', $figure, self::number($value), $unit)),
                ),
            );
        }

        return Command::SUCCESS;
    }

    private static function number(float $value): string
    {
        return abs($value) >= 100 ? number_format($value, 0, '.', '') : number_format($value, 2, '.', '');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Files;

use Olivine\App\Formula\WrongCall;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Problem;
use Olivine\Core\Formula\FormulaError;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/** The way of each command that puts files into service: all of them or none. 0 done, 1 a fault or a refusal, 2 a wrong call. */
final readonly class Applying
{
    public function __construct(private PersonRepository $people)
    {
    }

    /** @param callable(list<YamlFile>, ApplyOptions): string $apply puts them into service, and says what it did */
    public function by(callable $apply, InputInterface $input, OutputInterface $output): int
    {
        try {
            $words = $apply(ApplyOptions::files($input), ApplyOptions::of($input, $this->people));
        } catch (WrongCall $error) {
            $output->writeln($error->getMessage(), OutputInterface::OUTPUT_RAW);

            return Command::INVALID;
        } catch (NoSuchFile|BadFiles|FormulaError|Problem $error) {
            $output->writeln($error->getMessage(), OutputInterface::OUTPUT_RAW);

            return Command::FAILURE;
        }
        $output->write(rtrim($words, "\n") . "\n", false, OutputInterface::OUTPUT_RAW);

        return Command::SUCCESS;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\App\Files\FilesGiven;
use Olivine\App\Files\NoSuchFile;
use Olivine\App\Formula\WrongCall;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Formula\FormulaError;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
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
        private readonly PersonRepository $people,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('dir', InputArgument::IS_ARRAY | InputArgument::REQUIRED, 'Files, or folders with all that is YAML in them')
            ->addOption('whole', null, InputOption::VALUE_NONE, 'These files are all the rules that there are: others go')
            ->addOption('keep', null, InputOption::VALUE_REQUIRED, 'Of what was changed by hand: hand or file')
            ->addOption('by', null, InputOption::VALUE_REQUIRED, 'The address of whoever answers for it')
            ->addOption('reason', null, InputOption::VALUE_REQUIRED, 'Why', 'applied from files');
    }

    /** @throws FormulaError where the formula cannot be read or worked out */
    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        try {
            $keep = $this->keep($input);
            $author = $this->author($input);
            $read = $this->files->whole(FilesGiven::read(array_map(Scalar::text(...), array_values((array) $input->getArgument('dir'))), RulesOfFiles::KINDS));
            $planned = $this->planner->plan($read, $input->getOption('whole') === true);
            $this->applier->apply($planned, $keep, $author, mb_substr(Scalar::text($input->getOption('reason')), 0, 300));
        } catch (WrongCall $error) {
            $output->writeln($error->getMessage(), OutputInterface::OUTPUT_RAW);

            return self::INVALID;
        } catch (NoSuchFile|BadFiles|Problem $error) {
            $output->writeln($error->getMessage(), OutputInterface::OUTPUT_RAW);

            return self::FAILURE;
        }
        $output->write(PlanWords::text($planned, []), false, OutputInterface::OUTPUT_RAW);

        return self::SUCCESS;
    }

    /** @throws WrongCall */
    private function keep(InputInterface $input): ?Keep
    {
        $given = $input->getOption('keep');

        return $given === null
            ? null
            : Keep::tryFrom(Scalar::text($given)) ?? throw new WrongCall('--keep must be hand or file');
    }

    /** @throws WrongCall */
    private function author(InputInterface $input): ?Person
    {
        $given = $input->getOption('by');

        return $given === null
            ? null
            : $this->people->findOneBy(['email' => Scalar::text($given)]) ?? throw new WrongCall('--by must be the address of somebody who is there');
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\App\Files\FilesGiven;
use Olivine\App\Files\Kinds;
use Olivine\App\Files\NoSuchFile;
use Olivine\App\Platform\Scalar;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/** Says as JSON what is wrong in rule files, each fault with its place. 0 is well, 1 a fault, 2 a wrong call. */
#[AsCommand('olivine:rules:check', 'Says what is wrong in rule files')]
final class RulesCheckCommand extends Command
{
    private const JSON = JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PRETTY_PRINT;

    public function __construct(private readonly RulesOfFiles $rules)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('files', InputArgument::IS_ARRAY | InputArgument::REQUIRED, 'Files, or folders with all that is YAML in them');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        try {
            $files = FilesGiven::read(array_map(Scalar::text(...), array_values((array) $input->getArgument('files'))), Kinds::ALL);
        } catch (NoSuchFile $error) {
            $output->writeln(json_encode(['ok' => false, 'error' => ['message' => $error->getMessage()]], self::JSON), OutputInterface::OUTPUT_RAW);

            return self::INVALID;
        }
        $tests = count(array_merge(...array_map(RuleTestReader::read(...), $files), ...[[]]));
        $read = $this->rules->read($files);
        $isWell = $read->faults === [];
        $output->writeln(
            json_encode(['ok' => $isWell, 'rules' => count($read->rules), 'tests' => $tests, 'faults' => $read->faults], self::JSON),
            OutputInterface::OUTPUT_RAW,
        );

        return $isWell ? self::SUCCESS : self::FAILURE;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Files;

use Olivine\App\Formula\WrongCall;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Scalar;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/** What is asked of files alone, without server or database. What is wrong is answered as JSON, with 1 for the files and 2 for the call. */
abstract class FilesCommand extends Command
{
    public const JSON = JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE;

    protected function configure(): void
    {
        $this->addOption('config', null, InputOption::VALUE_REQUIRED, 'A folder with paths, ladders, copies, teams, rosters and rules in YAML');
    }

    final protected function execute(InputInterface $input, OutputInterface $output): int
    {
        try {
            $dir = Scalar::text($input->getOption('config') ?? throw new WrongCall('Say where the files are: --config DIR'));
            $output->write($this->told($input, FilesGiven::read([$dir], Kinds::ALL)), false, OutputInterface::OUTPUT_RAW);
        } catch (WrongCall|NoSuchFile $error) {
            return self::ended($output, self::INVALID, $error->getMessage());
        } catch (BadFiles|Problem $error) {
            return self::ended($output, self::FAILURE, $error->getMessage());
        }

        return self::SUCCESS;
    }

    /**
     * @param list<YamlFile> $files
     *
     * @return string what is answered, whole lines
     *
     * @throws WrongCall where an option is missing or cannot be
     * @throws BadFiles  where something is wrong in the files
     * @throws Problem   naming what cannot be so
     */
    abstract protected function told(InputInterface $input, array $files): string;

    private static function ended(OutputInterface $output, int $code, string $message): int
    {
        $output->writeln(json_encode(['ok' => false, 'error' => ['message' => $message]], self::JSON), OutputInterface::OUTPUT_RAW);

        return $code;
    }
}

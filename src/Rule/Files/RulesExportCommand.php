<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\App\Files\BadFiles;
use Olivine\App\Files\FilesGiven;
use Olivine\App\Files\Kinds;
use Olivine\App\Files\NoSuchFile;
use Olivine\App\Platform\CalledFrom;
use Olivine\App\Platform\Scalar;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/** Writes the rules in service into a folder, comments and order of what stands there kept. 0 done, 1 a fault, or a rule that cannot be written. */
#[AsCommand('olivine:rules:export', 'Writes the rules in service into a folder')]
final class RulesExportCommand extends Command
{
    public function __construct(private readonly RulesExport $export)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('dir', InputArgument::REQUIRED, 'The folder; what is not there is made');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $dir = rtrim(Scalar::text($input->getArgument('dir')), '/');
        $path = CalledFrom::path($dir);
        try {
            if (!is_dir($path) && !@mkdir($path, 0o777, true)) {
                throw new NoSuchFile("{$dir} cannot be made");
            }
            $exported = $this->export->of(FilesGiven::read([$dir], Kinds::ALL), self::more($dir, $path));
        } catch (NoSuchFile|BadFiles $error) {
            $output->writeln($error->getMessage(), OutputInterface::OUTPUT_RAW);

            return self::FAILURE;
        }
        foreach ($exported->texts as $name => $text) {
            if (@file_put_contents(CalledFrom::path($name), $text) === false) {
                $output->writeln("{$name} cannot be written", OutputInterface::OUTPUT_RAW);

                return self::FAILURE;
            }
            $output->writeln("{$name} written", OutputInterface::OUTPUT_RAW);
        }
        foreach ($exported->leftOut as $name => $why) {
            $output->writeln("{$name} left out: {$why}", OutputInterface::OUTPUT_RAW);
        }
        if ($exported->leftOut !== []) {
            return self::FAILURE;
        }
        $output->writeln($exported->texts === [] ? 'Nothing to write: the files say what is in service.' : '', OutputInterface::OUTPUT_RAW);

        return self::SUCCESS;
    }

    /** A file that is not there yet. */
    private static function more(string $dir, string $path): string
    {
        $name = 'rules';
        for ($i = 2; is_file("{$path}/{$name}.yaml"); ++$i) {
            $name = "rules-{$i}";
        }

        return "{$dir}/{$name}.yaml";
    }
}

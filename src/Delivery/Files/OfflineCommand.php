<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

use Olivine\App\Files\BadFiles;
use Olivine\App\Files\FilesGiven;
use Olivine\App\Files\Kinds;
use Olivine\App\Files\NoSuchFile;
use Olivine\App\Files\YamlFile;
use Olivine\App\Formula\GivenTime;
use Olivine\App\Formula\WrongCall;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Scalar;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/** What is asked of files alone, without server or database, and answered a JSON object a line. */
abstract class OfflineCommand extends Command
{
    private const JSON = JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE;

    public function __construct(private readonly PlanFileReader $reader)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('config', null, InputOption::VALUE_REQUIRED, 'A folder with paths, ladders, copies, teams and rules in YAML')
            ->addOption('rota', null, InputOption::VALUE_REQUIRED, 'Addresses of those who take turns on call, with commas between', '')
            ->addOption('zone', null, InputOption::VALUE_REQUIRED, 'On whose clocks turns change and set times are meant', 'UTC');
    }

    final protected function execute(InputInterface $input, OutputInterface $output): int
    {
        try {
            $dir = Scalar::text($input->getOption('config') ?? throw new WrongCall('Say where the files are: --config DIR'));
            $files = FilesGiven::read([$dir], Kinds::ALL);
            $rota = preg_split('~[\s,]+~', Scalar::text($input->getOption('rota')), -1, PREG_SPLIT_NO_EMPTY) ?: [];
            $plan = OfflinePlan::of($this->reader->whole($files), $rota, GivenTime::zone($input));
            foreach ($this->lines($input, $plan, $files) as $line) {
                $output->writeln($line, OutputInterface::OUTPUT_RAW);
            }
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
     * @return list<string>
     *
     * @throws WrongCall where an option is missing or cannot be
     * @throws BadFiles  where something is wrong in the files
     * @throws Problem   naming what cannot be so
     */
    abstract protected function lines(InputInterface $input, OfflinePlan $plan, array $files): array;

    private static function ended(OutputInterface $output, int $code, string $message): int
    {
        $output->writeln(json_encode(['ok' => false, 'error' => ['message' => $message]], self::JSON), OutputInterface::OUTPUT_RAW);

        return $code;
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

use Olivine\App\Files\BadFiles;
use Olivine\App\Files\FilesCommand;
use Olivine\App\Files\YamlFile;
use Olivine\App\Formula\GivenTime;
use Olivine\App\Formula\WrongCall;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\Files\RosterFileReader;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;

/** What would be told, and to whom, by files alone: a JSON object a line. */
abstract class OfflineCommand extends FilesCommand
{
    public function __construct(private readonly PlanFileReader $reader, private readonly RosterFileReader $rosters)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        parent::configure();
        $this
            ->addOption('zone', null, InputOption::VALUE_REQUIRED, 'On whose clocks set times are meant', 'UTC');
    }

    final protected function told(InputInterface $input, array $files): string
    {
        $plan = OfflinePlan::of($this->reader->whole($files), $this->rosters->whole($files), GivenTime::zone($input));
        $lines = $this->lines($input, $plan, $files);

        return $lines === [] ? '' : implode("\n", $lines) . "\n";
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
}

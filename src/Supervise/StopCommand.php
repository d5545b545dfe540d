<?php

declare(strict_types=1);

namespace Olivine\App\Supervise;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:stop', 'Stops everything this instance started, and nothing else')]
final class StopCommand extends Command
{
    private const PATIENCE_SECONDS = 40.0;

    public function __construct(private readonly Instance $instance)
    {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->stopAll($output) ? Command::SUCCESS : Command::FAILURE;
    }

    public function stopAll(OutputInterface $output, bool $quietly = false): bool
    {
        $began = microtime(true);
        $supervisor = $this->instance->supervisorPid();
        if ($supervisor !== null) {
            posix_kill($supervisor, SIGTERM);
            while ($this->instance->isOurs($supervisor) && microtime(true) - $began < self::PATIENCE_SECONDS) {
                usleep(50_000);
            }
        }
        // Whatever a supervisor that was killed has left behind: asked to end first, then made to.
        $own = $this->ancestors();
        $orphans = 0;
        foreach ([SIGTERM, SIGKILL] as $signal) {
            $left = array_diff($this->instance->processes(), $own);
            $orphans += count($left);
            foreach ($left as $pid) {
                posix_kill($pid, $signal);
            }
            for ($i = 0; $i < 200 && array_diff($this->instance->processes(), $own) !== []; ++$i) {
                usleep(50_000);
            }
        }
        if (!$quietly) {
            $output->writeln(
                $supervisor === null && $orphans === 0
                    ? 'Nothing was running.'
                    : sprintf('Stopped in %.1f s.', microtime(true) - $began),
            );
        }

        return array_diff($this->instance->processes(), $own) === [];
    }

    /** @return list<int> the processes that lead to this one */
    private function ancestors(): array
    {
        $pids = [];
        for ($pid = (int) getmypid(); $pid > 1;) {
            $pids[] = $pid;
            preg_match('~^PPid:\s+(\d+)~m', (string) @file_get_contents("/proc/{$pid}/status"), $part);
            $pid = (int) ($part[1] ?? 0);
        }

        return $pids;
    }
}

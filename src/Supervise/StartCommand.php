<?php

declare(strict_types=1);

namespace Olivine\App\Supervise;

use Doctrine\DBAL\DriverManager;
use Doctrine\DBAL\Tools\DsnParser;
use Olivine\App\Demo\DemoPeople;
use Olivine\App\Kernel;
use Olivine\App\Platform\Scalar;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\HttpKernel\KernelInterface;

/**
 * Starts an instance and says where it is. On a terminal it stays until Ctrl-C, which stops everything;
 * elsewhere it leaves the parts running and returns.
 */
#[AsCommand('olivine:start', 'Starts an instance')]
final class StartCommand extends Command
{
    /** Whoever started us may read what we say through a pipe, to its end; what goes on in the background must not hold that open. */
    private const LETTING_GO = 'for fd in /proc/self/fd/*; do fd=${fd##*/}; [ "$fd" -gt 2 ] && eval "exec $fd>&-"; done; exec "$@"';

    private bool $interrupted = false;

    public function __construct(
        private readonly Instance $instance,
        private readonly StopCommand $stop,
        private readonly KernelInterface $kernel,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('port', null, InputOption::VALUE_REQUIRED, 'First of seven loopback ports in a row')
            ->addOption('fresh', null, InputOption::VALUE_NONE, 'Throw the data away and begin anew')
            ->addOption('no-standins', null, InputOption::VALUE_NONE, 'Without fleet, mailbox and demo data')
            ->addOption('gather', null, InputOption::VALUE_REQUIRED, 'Seconds to gather alerts before telling anyone', '10')
            ->addOption('days', null, InputOption::VALUE_REQUIRED, 'Days of demo history', '14')
            ->addOption(
                'weekday',
                null,
                InputOption::VALUE_REQUIRED,
                'Let the fleet live as if today was this day of the week, 1 Monday to 7 Sunday; what breaks by itself there breaks by the week',
            )
            ->addOption('detach', null, InputOption::VALUE_NONE, 'Return when it is up, also on a terminal')
            ->addOption('stay', null, InputOption::VALUE_NONE, 'Stay until interrupted, also without a terminal');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        pcntl_async_signals(true);
        foreach ([SIGINT, SIGTERM, SIGHUP] as $signal) {
            pcntl_signal($signal, function (): void {
                $this->interrupted = true;
            });
        }
        if ($input->getOption('fresh') === true) {
            $this->stop->stopAll($output);
            (new Filesystem())->remove($this->instance->dir);
        } elseif ($this->instance->supervisorPid() !== null) {
            $output->writeln('It runs already.');
            $this->tellWhere($output);

            return Command::SUCCESS;
        } else {
            $this->stop->stopAll($output, quietly: true);
            if ($this->kernel instanceof Kernel) {
                $this->kernel->forgetOtherVersions();
            }
        }
        $port = $input->getOption('port');
        if ($port !== null && (!ctype_digit(Scalar::text($port)) || Scalar::int($port) < 1024 || Scalar::int($port) > 65_000)) {
            $output->writeln('--port must be a number from 1024 to 65000, not ' . Scalar::text($port));

            return Command::INVALID;
        }
        $weekday = $input->getOption('weekday');
        if ($weekday !== null && preg_match('~^[1-7]$~D', Scalar::text($weekday)) !== 1) {
            $output->writeln('--weekday must be 1 (Monday) to 7 (Sunday), not ' . Scalar::text($weekday));

            return Command::INVALID;
        }
        $ports = $port !== null ? new Ports(Scalar::int($port)) : $this->instance->ports();
        $taken = $ports->taken();
        if ($taken !== []) {
            foreach ($taken as $name => $number) {
                $output->writeln("Port {$number} ({$name}) is in use by another program.");
            }
            $output->writeln(
                sprintf(
                    'Choose another row of ports, for example: %s --port=%d',
                    $this->instance->startCommand($input->getOption('no-standins') !== true),
                    $ports->base + 100,
                ),
            );

            return Command::FAILURE;
        }
        $this->instance->prepare(
            $ports,
            $input->getOption('no-standins') !== true,
            Scalar::int($input->getOption('gather')),
            Scalar::int($input->getOption('days')),
            $weekday === null ? null : ((Scalar::int($weekday) - Scalar::int(gmdate('N')) + 7) % 7) * 86_400,
        );
        @unlink("{$this->instance->dir}/run/progress");
        $this->spawnSupervisor();
        if (!$this->follow($output)) {
            $this->stop->stopAll($output, quietly: true);

            return Command::FAILURE;
        }
        $this->tellWhere($output);
        $stay = $input->getOption('stay') === true || ($input->getOption('detach') !== true && stream_isatty(STDOUT));
        if ($stay) {
            $output->writeln("\nCtrl-C stops everything.");
            while (!$this->interrupted && $this->instance->supervisorPid() !== null) {
                usleep(200_000);
            }
            $output->writeln('');
            $this->stop->stopAll($output);
        } else {
            $output->writeln(
                "\nIt runs in the background; {$this->instance->ownCommand(
                    'status',
                )} shows how it is, {$this->instance->ownCommand('stop')} ends it.",
            );
        }

        return Command::SUCCESS;
    }

    private function spawnSupervisor(): void
    {
        $log = "{$this->instance->dir}/log/supervisor.log";
        $environment = [
            'OLIVINE_SUPERVISED' => $this->instance->dir,
            'OLIVINE_STATE_DIR' => $this->instance->dir,
            'OLIVINE_INSTANCE' => basename($this->instance->dir),
            'PATH' => (string) getenv('PATH'),
            'HOME' => (string) (getenv('HOME') ?: '/root'),
        ];
        $process = proc_open(
            ['setsid', '--fork', 'bash', '-c', self::LETTING_GO, 'olivine', PHP_BINARY, 'bin/console', 'olivine:supervise'],
            [['file', '/dev/null', 'r'], ['file', $log, 'a'], ['file', $log, 'a']],
            $pipes,
            $this->instance->projectDir(),
            $environment,
        );
        if ($process !== false) {
            proc_close($process);
        }
    }

    private function follow(OutputInterface $output): bool
    {
        $shown = 0;
        $began = microtime(true);
        $seen = false;
        while (true) {
            $lines = is_file("{$this->instance->dir}/run/progress")
                ? (array) file("{$this->instance->dir}/run/progress", FILE_IGNORE_NEW_LINES)
                : [];
            for (; $shown < count($lines); ++$shown) {
                $line = (string) $lines[$shown];
                if ($line === 'ready') {
                    return true;
                }
                $output->writeln(sprintf('  %5.1f s  %s', microtime(true) - $began, $line));
                if (str_starts_with($line, 'failed')) {
                    return false;
                }
            }
            $alive = $this->instance->supervisorPid() !== null;
            $seen = $seen || $alive;
            if ($this->interrupted) {
                $output->writeln('Stopped before it was up.');

                return false;
            }
            if ((!$alive && $seen) || (!$seen && microtime(true) - $began > 15)) {
                $output->writeln("The supervisor ended; {$this->instance->dir}/log/supervisor.log says why.");

                return false;
            }
            usleep(50_000);
        }
    }

    private function people(): int
    {
        $dsn = (new DsnParser(['mysql' => 'pdo_mysql']))->parse($this->instance->env()['DATABASE_URL'] ?? '');

        return Scalar::int(DriverManager::getConnection($dsn)->fetchOne('SELECT COUNT(*) FROM person WHERE removed_at IS NULL'));
    }

    private function tellWhere(OutputInterface $output): void
    {
        $ports = $this->instance->ports();
        $output->writeln("\n  Olivine   http://127.0.0.1:{$ports->web()}");
        if (($this->instance->env()['OLIVINE_STANDINS'] ?? '0') === '1') {
            $output->writeln("  Mailbox   http://127.0.0.1:{$ports->mailbox()}   where its mail arrives");
            $output->writeln("  Sink      http://127.0.0.1:{$ports->sink()}   where its webhooks arrive");
            $output->writeln("  Phones    http://127.0.0.1:{$ports->phone()}   where it writes and calls; answer there");
            $output->writeln("  Chat      http://127.0.0.1:{$ports->chat()}   where it says so; press buttons there");
            $output->writeln("  Desk      http://127.0.0.1:{$ports->desk()}   where its tickets are");
            $output->writeln("  Browser   http://127.0.0.1:{$ports->browser()}   which shows what is pushed to Ines");
            $output->writeln("  Fleet     http://127.0.0.1:{$ports->fleet()}   break things here");
            $output->writeln("\n  Sign in as");
            foreach (DemoPeople::SIGN_INS as [$name, $email, $role]) {
                $output->writeln(sprintf('    %-14s %-30s %s   (%s)', $role->value, $email, DemoPeople::PASSWORD, $name));
            }

            return;
        }
        $output->writeln("  Agent     http://127.0.0.1:{$ports->agent()}/metrics   this machine, as a first target");
        if ($this->people() === 0) {
            $output->writeln("\n  Nobody can sign in yet. Add the first person, who keeps the others:");
            $output->writeln("    {$this->instance->ownCommand('person you@your.domain "Your Name" administrator')}");
        }
        $output->writeln('  Setup has the mail server; until one is set nobody can be told by mail.');
    }
}

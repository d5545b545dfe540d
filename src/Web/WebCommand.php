<?php

declare(strict_types=1);

namespace Olivine\App\Web;

use Olivine\App\Platform\Scalar;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/** Listens for the web server, and keeps as many workers as were asked for, each answering one request at a time. */
#[AsCommand('olivine:web', 'Answers what the web server hands on')]
final class WebCommand extends Command
{
    private const REQUESTS_A_WORKER = 5_000;
    /** What stays of heavy answers lies scattered over memory that cannot be given back; a new worker costs some milliseconds. */
    private const MOST_KEPT_BYTES = 12_000_000;
    private const ROOM_BYTES = 8_000_000;
    private const WAITING_CONNECTIONS = 511;
    /** Whoever connects and then says nothing, or takes nothing, must not hold a worker. */
    private const PATIENCE_SECONDS = 20;
    private const SHORTEST_LIFE_SECONDS = 1.0;

    private bool $stopping = false;

    public function __construct(private readonly WebWorker $worker)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('port', null, InputOption::VALUE_REQUIRED, 'Where to listen, on loopback');
        $this->addOption('workers', null, InputOption::VALUE_REQUIRED, 'How many requests are answered at once', '8');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $listening = stream_socket_server(
            'tcp://127.0.0.1:' . Scalar::text($input->getOption('port')),
            $code,
            $message,
            STREAM_SERVER_BIND | STREAM_SERVER_LISTEN,
            stream_context_create(['socket' => ['backlog' => self::WAITING_CONNECTIONS]]),
        );
        if ($listening === false) {
            $output->writeln("Cannot listen: {$message}");

            return 1;
        }
        $this->endOn(SIGTERM, SIGINT);
        $this->worker->warm();
        // Whoever compiled the application to begin with does not hand on what that took.
        gc_collect_cycles();
        gc_mem_caches();
        $workers = [];
        while (!$this->stopping) {
            while (count($workers) < Scalar::int($input->getOption('workers'))) {
                $pid = pcntl_fork();
                if ($pid === 0) {
                    $this->work($listening);
                    exit(0);
                }
                $workers[$pid] = microtime(true);
            }
            $ended = pcntl_wait($status);
            if ($ended > 0) {
                // A worker that cannot even start is not started in a tight loop.
                if (microtime(true) - $workers[$ended] < self::SHORTEST_LIFE_SECONDS) {
                    usleep(500_000);
                }
                unset($workers[$ended]);
            }
        }
        foreach (array_keys($workers) as $pid) {
            posix_kill($pid, SIGTERM);
        }
        while (pcntl_wait($status) > 0) {
        }

        return 0;
    }

    /** @param resource $listening */
    private function work($listening): void
    {
        register_shutdown_function($this->worker->tellOfSuddenEnd(...));
        $usual = $atFirst = memory_get_usage(true);
        for (
            $done = 0;
            $done < self::REQUESTS_A_WORKER && !$this->stopping && memory_get_usage(true) < $atFirst + self::MOST_KEPT_BYTES;

        ) {
            $connection = @stream_socket_accept($listening, -1);
            if ($connection === false) {
                continue;
            }
            stream_set_timeout($connection, self::PATIENCE_SECONDS);
            $call = FastCgiRequest::receive($connection);
            if ($call !== null) {
                $this->worker->answer($call);
                ++$done;
                // What a heavy answer took is given back, so that what a worker holds does not tell its heaviest one for ever.
                if (memory_get_usage(true) > $usual + self::ROOM_BYTES) {
                    gc_mem_caches();
                    $usual = max($usual, memory_get_usage(true));
                }
            }
        }
    }

    private function endOn(int ...$signals): void
    {
        pcntl_async_signals(true);
        foreach ($signals as $signal) {
            pcntl_signal(
                $signal,
                function (): void {
                    $this->stopping = true;
                },
                false,
            );
        }
    }
}

<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Symfony\Component\Console\Output\OutputInterface;

/**
 * The loop that every long-running part shares: one holder at a time by lease, figures written for Olivine's own
 * metrics, an orderly end on SIGTERM and SIGINT, and a pause instead of an end while the database is away.
 */
final class Part
{
    /** A round should begin nothing more after this: it cannot be stopped meanwhile, and its lease runs on. */
    public const ROUND_SECONDS = 2.0;
    private const REPORT_EVERY_SECONDS = 5.0;
    private const STANDBY_MS = 500;

    private bool $stopping = false;
    private float $reportAt = 0.0;

    public function __construct(
        private readonly Database $database,
        private readonly string $name,
        private readonly OutputInterface $output,
        private readonly Clock $clock = new Clock(),
    ) {
        pcntl_async_signals(true);
        foreach ([SIGTERM, SIGINT] as $signal) {
            pcntl_signal($signal, function (): void {
                $this->stopping = true;
            });
        }
    }

    /**
     * @param callable(): int                  $work    one round; returns how many milliseconds may pass until the next
     * @param callable(): array<string, float> $figures
     * @param (callable(): void)|null          $standBy called while another holds the lease: what was remembered may be old by then
     */
    public function run(callable $work, callable $figures, ?callable $standBy = null): int
    {
        $lease = null;
        while (!$this->stopping) {
            try {
                if ($lease === null) {
                    $lease = new Lease($this->database, $this->name);
                    $this->database->under($lease);
                }
                if (!$lease->held()) {
                    $standBy === null || $standBy();
                    $this->nap(self::STANDBY_MS);
                    continue;
                }
                $pauseMs = $work();
                // Only who is at work speaks for the part: the figures of one that stands by would take turns with its own.
                if (microtime(true) >= $this->reportAt) {
                    $this->reportAt = microtime(true) + self::REPORT_EVERY_SECONDS;
                    $this->report($figures());
                }
            } catch (LeaseLost $lost) {
                $this->output->writeln(sprintf('%s %s stands by: %s', date('H:i:s'), $this->name, $lost->getMessage()));
                $standBy === null || $standBy();
                $pauseMs = self::STANDBY_MS;
            } catch (\Throwable $error) {
                if (!Database::mayPass($error)) {
                    throw $error;
                }
                $this->output->writeln(
                    sprintf('%s %s waits for the database: %s', date('H:i:s'), $this->name, $error->getMessage()),
                );
                $this->database->connection->close();
                $pauseMs = 1_000;
            }
            $this->nap($pauseMs);
        }
        $lease?->release();

        return 0;
    }

    private function nap(int $milliseconds): void
    {
        if ($milliseconds > 0 && !$this->stopping) {
            usleep($milliseconds * 1000);
        }
    }

    /** @param array<string, float> $figures */
    private function report(array $figures): void
    {
        // What a heavy round took goes back to the machine.
        gc_mem_caches();
        $figures['process_memory_usage_bytes'] = (float) memory_get_usage(true);
        (new PartReports($this->database))->keep($this->name, (int) getmypid(), $this->clock->nowMs(), $figures);
    }
}

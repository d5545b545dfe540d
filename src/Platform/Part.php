<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Symfony\Component\Console\Output\OutputInterface;

/**
 * The loop that every long-running part shares: work only in the slots that are held, figures written for Olivine's own
 * metrics, an orderly end on SIGTERM and SIGINT, and a pause instead of an end while the database is away.
 */
final class Part
{
    /** A round should begin nothing more after this: it cannot be stopped meanwhile, and its leases run on. */
    public const ROUND_SECONDS = 2.0;
    private const REPORT_EVERY_SECONDS = 5.0;
    private const STANDBY_MS = 500;

    private bool $stopping = false;
    private float $reportAt = 0.0;
    private HeldSlots $held;

    public function __construct(
        private readonly Database $database,
        private readonly PartName $name,
        private readonly OutputInterface $output,
        private readonly Clock $clock = new Clock(),
    ) {
        $this->held = HeldSlots::none($name);
        pcntl_async_signals(true);
        foreach ([SIGTERM, SIGINT] as $signal) {
            pcntl_signal($signal, function (): void {
                $this->stopping = true;
            });
        }
    }

    public function run(PartWork $work): int
    {
        $slots = null;
        while (!$this->stopping) {
            try {
                if ($slots === null) {
                    $slots = new Slots($this->database, $this->name);
                    $this->database->under($slots);
                }
                $this->hold($work, $slots->held());
                $pauseMs = $this->held->isNone() ? self::STANDBY_MS : $this->work($work);
            } catch (LeaseLost $lost) {
                $this->output->writeln(sprintf('%s %s stands by: %s', date('H:i:s'), $this->name->value, $lost->getMessage()));
                $this->hold($work, HeldSlots::none($this->name));
                $pauseMs = self::STANDBY_MS;
            } catch (\Throwable $error) {
                if (!Database::mayPass($error)) {
                    throw $error;
                }
                $this->output->writeln(
                    sprintf('%s %s waits for the database: %s', date('H:i:s'), $this->name->value, $error->getMessage()),
                );
                $this->database->connection->close();
                $pauseMs = 1_000;
            }
            $this->nap($pauseMs);
        }
        $slots?->release();

        return 0;
    }

    private function hold(PartWork $work, HeldSlots $slots): void
    {
        if ($slots->epochs !== $this->held->epochs) {
            $this->held = $slots;
            $work->hold($slots);
        }
    }

    private function work(PartWork $work): int
    {
        $pauseMs = $work->round();
        // Only who is at work speaks for the part: the figures of one that stands by would take turns with its own.
        if (microtime(true) >= $this->reportAt) {
            $this->reportAt = microtime(true) + self::REPORT_EVERY_SECONDS;
            $this->report($work->figures());
        }

        return $pauseMs;
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
        (new PartReports($this->database))->keep($this->held, (int) getmypid(), $this->clock->now(), $figures);
    }
}

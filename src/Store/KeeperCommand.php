<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Part;
use Olivine\App\Platform\WorkedOut;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:keeper', 'Seals old readings into blocks, lets go of what is past its time, and works out what is slow to answer')]
final class KeeperCommand extends Command
{
    private const FAULTS_KEPT_MS = 7 * 86_400_000;
    private const TIDY_EVERY_MS = 60_000;

    private int $sealed = 0;
    private int $dropped = 0;
    private int $tidyAtMs = 0;

    public function __construct(
        private readonly Database $database,
        private readonly Sealer $sealer,
        private readonly Partitions $partitions,
        private readonly LetGo $letGo,
        private readonly DaySettler $days,
        private readonly WorkedOut $workedOut,
    ) {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return (new Part($this->database, 'keeper', $output))->run(function (): int {
            $now = Clock::nowMs();
            if ($now >= $this->tidyAtMs) {
                $this->tidyAtMs = $now + self::TIDY_EVERY_MS;
                $this->tidy($now);
            }
            $done = $this->sealer->round($now);
            $this->sealed += $done;
            $more = $done > 0 || $this->days->round($now);
            $this->workedOut->renewDue($now);

            return $more ? 50 : 5_000;
        }, fn(): array => ['olivine_sealed_spans_total' => (float) $this->sealed, 'olivine_dropped_partitions_total' => (float) $this->dropped]);
    }

    private function tidy(int $nowMs): void
    {
        $connection = $this->database->connection;
        $connection->executeStatement('DELETE FROM scrape_fault WHERE at < ?', [$nowMs - self::FAULTS_KEPT_MS]);
        $connection->executeStatement('DELETE FROM act_token WHERE ends_at < ?', [$nowMs]);
        $this->forgetRemovedTargets($connection, $nowMs);
        // The days to come need their partitions before they come.
        $this->partitions->cover($nowMs - Span::DAY_MS, $nowMs + 2 * Span::DAY_MS);
        $gone = $this->letGo->round($nowMs);
        $this->dropped += $gone['partitions'];
        if (!$gone['isDone']) {
            $this->tidyAtMs = $nowMs;
        }
    }

    /** A removal can be taken back for a day; then the target goes, and its blocks with their partitions. */
    private function forgetRemovedTargets(Connection $connection, int $nowMs): void
    {
        foreach ($connection->fetchFirstColumn('SELECT id FROM target WHERE removed_at < ?', [$nowMs - Span::DAY_MS]) as $id) {
            $connection->executeStatement('DELETE r FROM scrape_row r JOIN page p ON p.id = r.page WHERE p.target_id = ?', [$id]);
            foreach (['series', 'page', 'target_status', 'scrape_fault'] as $table) {
                $connection->executeStatement("DELETE FROM {$table} WHERE target_id = ?", [$id]);
            }
            $connection->executeStatement('DELETE FROM target WHERE id = ?', [$id]);
        }
    }
}

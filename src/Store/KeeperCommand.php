<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Part;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:keeper', 'Seals old readings into blocks and lets go of what is past its time')]
final class KeeperCommand extends Command
{
    private const FAULTS_KEPT_MS = 7 * 86_400_000;
    private const READINGS_KEPT_MS = 30 * 86_400_000;

    private int $sealed = 0;

    public function __construct(private readonly Database $database, private readonly Sealer $sealer)
    {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return (new Part($this->database, 'keeper', $output))->run(function (): int {
            $done = $this->sealer->round(Clock::nowMs());
            $this->sealed += $done;
            if ($done > 0) {
                return 50;
            }
            $connection = $this->database->connection;
            $connection->executeStatement('DELETE FROM scrape_fault WHERE at < ?', [Clock::nowMs() - self::FAULTS_KEPT_MS]);
            $connection->executeStatement('DELETE FROM act_token WHERE ends_at < ?', [Clock::nowMs()]);
            foreach (['block', 'block_time'] as $table) {
                $connection->executeStatement("DELETE FROM {$table} WHERE from_at < ? LIMIT 5000", [Clock::nowMs() - self::READINGS_KEPT_MS]);
            }

            return 5_000;
        }, fn(): array => ['olivine_sealed_spans_total' => (float) $this->sealed]);
    }
}

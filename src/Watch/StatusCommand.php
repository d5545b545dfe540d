<?php

declare(strict_types=1);

namespace Olivine\App\Watch;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Clock;
use Olivine\App\Supervise\Instance;
use Olivine\Core\Series\Quantity;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:status', 'How each part and each open incident is')]
final class StatusCommand extends Command
{
    public function __construct(private readonly Instance $instance, private readonly Connection $connection)
    {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        if ($this->instance->supervisorPid() === null) {
            $output->writeln('It does not run. Start it with: bin/olivine demo');

            return 3;
        }
        $now = Clock::nowMs();
        $reports = $this->connection->fetchAllAssociativeIndexed('SELECT name, at, figures FROM part_status');
        $healthy = true;
        foreach ($this->instance->parts() as $name => $part) {
            $alive = $this->instance->isOurs($part['pid']);
            $report = $reports[$name] ?? null;
            $silent = $report !== null && $now - (int) $report['at'] > 20_000;
            $healthy = $healthy && $alive && !$silent;
            $output->writeln(sprintf(
                '  %-11s %-8s since %s%s%s',
                $name,
                !$alive ? 'down' : ($silent ? 'silent' : 'up'),
                Quantity::span(max(0, $now - 1000 * $part['since'])),
                $part['restarts'] > 0 ? ", started again {$part['restarts']}×" : '',
                $report === null ? '' : '   ' . self::figures((string) $report['figures']),
            ));
        }
        $targets = $this->connection->fetchNumeric('SELECT COUNT(*), COALESCE(SUM(s.ok), 0) FROM target t LEFT JOIN target_status s ON s.target_id = t.id WHERE t.removed_at IS NULL AND NOT t.paused') ?: [0, 0];
        $output->writeln("\n  {$targets[1]} of {$targets[0]} targets report.");
        $open = $this->connection->fetchAllAssociative("SELECT i.*, p.name AS person FROM incident i LEFT JOIN person p ON p.id = i.acknowledged_by WHERE i.status <> 'resolved' ORDER BY FIELD(severity, 'critical', 'major', 'minor', 'warning'), opened_at");
        $output->writeln($open === [] ? '  No open incident.' : '');
        foreach ($open as $row) {
            $output->writeln(sprintf(
                '  %4d  %-8s  %s, since %s, %s',
                $row['id'],
                $row['severity'],
                $row['title'],
                Quantity::span($now - (int) $row['opened_at']),
                $row['status'] === 'acknowledged' ? "{$row['person']} has it" : 'nobody has it',
            ));
        }

        return $healthy ? Command::SUCCESS : Command::FAILURE;
    }

    private static function figures(string $json): string
    {
        $words = [];
        foreach ((array) json_decode($json, true) as $name => $value) {
            if (!str_starts_with((string) $name, 'process_')) {
                $words[] = str_replace(['olivine_', '_total', '_'], ['', '', ' '], (string) $name) . ' ' . round((float) $value, 2);
            }
        }

        return implode(', ', $words);
    }
}
